<script setup lang="ts">
import { ref, watch } from 'vue'

/** A text that counts once it is left or Enter is pressed; what others change meanwhile does not disturb the typing. */
const props = defineProps<{ value: string | undefined }>()
const emit = defineEmits<{ commit: [string] }>()

const typed = ref(props.value ?? '')
watch(
  () => props.value,
  (now) => (typed.value = now ?? ''),
)
</script>

<template>
  <input v-model="typed" @change="emit('commit', typed)" />
</template>

<style scoped>
input {
  background: transparent;
  border: 0;
  border-bottom: 1px solid transparent;
  padding: var(--space-4) 0;
}
input:hover,
input:focus {
  border-bottom-color: var(--edge);
}
</style>
