<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'

/** A field for a day or a time, in the home's form whatever the browser's is. What cannot be read is said, and changes nothing. */
const props = defineProps<{
  label: string
  placeholder?: string
  /** Reads what is typed; nothing where it means nothing. */
  read: (typed: string) => string | undefined
  /** What it is shown as. */
  say?: (value: string) => string
  /** What is said where it cannot be read. */
  mistake: string
}>()
const value = defineModel<string>({ required: true })
const shown = () => (value.value && props.say ? props.say(value.value) : value.value)
const typed = ref(shown())
const wrong = ref(false)
watch(value, () => (typed.value = shown()))

function commit() {
  const words = typed.value?.trim() ?? ''
  const meant = words && words !== shown() ? props.read(words) : words && value.value
  wrong.value = !!words && meant === undefined
  if (wrong.value) return
  value.value = meant ?? ''
  typed.value = shown()
}
</script>

<template>
  <span class="typed">
    <InputText
      v-model="typed"
      :placeholder="placeholder"
      :aria-label="label"
      :title="label"
      :invalid="wrong"
      :aria-invalid="wrong"
      fluid
      @change="commit"
      @keydown.enter="commit"
    />
    <span v-if="wrong" class="wrong" role="alert">{{ mistake }}</span>
  </span>
</template>

<style scoped>
.typed {
  display: inline-grid;
}
.wrong {
  color: var(--ember);
  font-size: var(--type-small);
}
</style>
