<script setup lang="ts">
defineProps<{ title: string }>()
</script>

<template>
  <div class="empty">
    <h1>{{ title }}</h1>
    <div class="next"><slot /></div>
  </div>
</template>

<style scoped>
.empty {
  max-width: 520px;
  padding: var(--space-60) var(--space-44);
}
.next {
  margin-top: var(--space-12);
  display: grid;
  gap: var(--space-14);
  justify-items: start;
  color: var(--ink-soft);
}
</style>
