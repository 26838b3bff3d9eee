<script setup lang="ts">
/** That something could not be shown, why, and the way to try it again. */
defineProps<{ reason: string }>()
const emit = defineEmits<{ again: [] }>()
</script>

<template>
  <p class="error" role="alert">
    {{ reason }} <button type="button" class="plain link" @click="emit('again')">Try again</button>
  </p>
</template>

<style scoped>
.error {
  color: var(--ember);
  padding: var(--space-8) 0;
}
</style>
