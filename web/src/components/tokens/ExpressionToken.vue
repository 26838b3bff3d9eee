<script setup lang="ts">
import Popover from 'primevue/popover'
import { computed, ref } from 'vue'
import { readable } from '@/lib/expressions'
import { useHome } from '@/stores/home'
import ExpressionEditor from '@/components/rule/ExpressionEditor.vue'

/** An expression within a sentence, read with names and typed in place. */
const props = defineProps<{ modelValue: string | undefined; label: string; empty: string; help?: string }>()
const emit = defineEmits<{ 'update:modelValue': [string] }>()
const home = useHome()

const popover = ref<InstanceType<typeof Popover>>()
const typed = ref('')
const shown = computed(() =>
  props.modelValue
    ? readable(props.modelValue, {
        everything: home.everything,
        groups: home.groups,
        rooms: home.rooms,
        modes: home.modes,
      })
    : props.empty,
)

function open(event: Event) {
  typed.value = props.modelValue ?? ''
  popover.value?.toggle(event)
}
function take() {
  emit('update:modelValue', typed.value.trim())
  popover.value?.hide()
}
</script>

<template>
  <button
    type="button"
    class="plain token worked"
    :class="{ unset: !modelValue }"
    :aria-label="`${label}: ${shown}`"
    @click="open"
  >
    {{ shown }}
  </button>
  <Popover ref="popover">
    <form class="form" @submit.prevent="take">
      <ExpressionEditor v-model="typed" :label="label" @take="take" />
      <p class="end">
        <span class="soft">Ctrl Enter sets it, right or wrong: a wrong one is shown. {{ help }}</span>
        <button type="submit" class="plain link">Set</button>
      </p>
    </form>
  </Popover>
</template>

<style scoped>
.worked {
  font-family: var(--mono);
  font-size: 0.85em;
  text-align: left;
}
.form {
  width: min(560px, 84vw);
}
.end {
  display: flex;
  gap: var(--space-16);
  justify-content: space-between;
  margin: var(--space-8) 0 0;
  font-size: var(--type-small);
}
</style>
