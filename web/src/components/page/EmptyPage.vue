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
  padding: 64px 40px;
}
.next {
  margin-top: 12px;
  display: grid;
  gap: 14px;
  justify-items: start;
  color: var(--ink-soft);
}
</style>
