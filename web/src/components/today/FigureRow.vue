<script setup lang="ts">
/** A line of Today: a figure or a time, and what it is of. */
defineProps<{ figure?: string | number; alert?: boolean }>()
</script>

<template>
  <li>
    <span class="mono figure" :class="{ alert }">{{ figure }}</span>
    <span><slot /></span>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr);
  padding: var(--space-4) 0;
  line-height: 1.4;
}
.figure {
  font-size: var(--type-small);
  line-height: 1.6;
  color: var(--ink-soft);
  white-space: nowrap;
}
.figure.alert {
  color: var(--ember);
}
</style>
