<script setup lang="ts">
import { RouterLink } from 'vue-router'

defineProps<{ to: string; chosen: boolean }>()
</script>

<template>
  <RouterLink :to="to" data-row class="row" :class="{ chosen }" :aria-current="chosen ? 'true' : undefined">
    <span class="mark"><slot name="mark" /></span>
    <span class="title"><slot /></span>
    <span class="value mono"><slot name="value" /></span>
    <span class="reason"><slot name="reason" /></span>
  </RouterLink>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 14px minmax(0, 1fr) auto;
  column-gap: var(--space-12);
  align-items: center;
  padding: var(--space-8) var(--space-16) var(--space-8) var(--space-14);
  border-left: 3px solid transparent;
  border-top: 1px solid var(--rule);
  color: var(--ink);
  text-decoration: none;
  min-height: var(--touch);
}
.row:hover {
  background: var(--verdigris-wash);
}
.chosen {
  background: var(--sheet);
  border-left-color: var(--verdigris);
}
.chosen .title {
  font-weight: 650;
}
.title {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.reason {
  grid-column: 2 / 4;
  font-size: var(--type-small);
  color: var(--ink-soft);
  line-height: 1.35;
}
.row:focus-visible {
  outline-offset: -2px;
}
</style>
