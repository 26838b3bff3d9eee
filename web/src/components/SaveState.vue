<script setup lang="ts">
defineProps<{ saving: 'saved' | 'saving' | 'failed'; wrong: string }>()
</script>

<template>
  <span class="state" :class="saving" role="status">
    {{ saving === 'saved' ? 'saved' : saving === 'saving' ? 'saving …' : `not saved: ${wrong}` }}
  </span>
</template>

<style scoped>
.state {
  font-size: 13.5px;
  color: var(--ink-soft);
}
.failed {
  color: var(--ember);
}
</style>
