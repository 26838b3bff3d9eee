<script setup lang="ts">
import Popover from 'primevue/popover'
import { nextTick, ref } from 'vue'

/** Words of a sentence that can be changed in place. */
const props = defineProps<{
  modelValue: string | undefined
  label: string
  empty: string
  maximum: number
  help?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [string] }>()

const popover = ref<InstanceType<typeof Popover>>()
const input = ref<HTMLInputElement>()
const typed = ref('')

function open(event: Event) {
  typed.value = props.modelValue ?? ''
  popover.value?.toggle(event)
}
async function focus() {
  await nextTick()
  input.value?.focus()
  input.value?.select()
}
function take() {
  emit('update:modelValue', typed.value.trim())
  popover.value?.hide()
}
</script>

<template>
  <button
    type="button"
    class="plain token"
    :class="{ unset: !modelValue }"
    :aria-label="`${label}: ${modelValue || empty}`"
    @click="open"
  >
    {{ modelValue ? `“${modelValue}”` : empty }}
  </button>
  <Popover ref="popover" @show="focus">
    <form class="form" @submit.prevent="take">
      <input ref="input" v-model="typed" :aria-label="label" :maxlength="maximum" />
      <button type="submit" class="plain link">Set</button>
    </form>
    <p v-if="help" class="soft help">{{ help }}</p>
  </Popover>
</template>

<style scoped>
.help {
  margin: var(--space-6) 0 0;
  font-size: var(--type-small);
  max-width: 380px;
}
.form {
  display: flex;
  gap: var(--space-10);
  align-items: baseline;
}
input {
  width: min(340px, 70vw);
  background: var(--paper);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  padding: var(--space-4) var(--space-8);
}
</style>
