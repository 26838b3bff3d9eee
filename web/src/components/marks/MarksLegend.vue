<script setup lang="ts">
import { IconHandStop } from '@tabler/icons-vue'
import StateMark from './StateMark.vue'

const marks = [
  { mark: 'on', words: 'confirmed on' },
  { mark: 'off', words: 'off' },
  { mark: 'pending', words: 'asked for, not yet confirmed' },
  { mark: 'assumed', words: 'assumed: a way without answers' },
  { mark: 'silent', words: 'stale: it cannot be reached' },
  { mark: 'failed', words: 'failed: point at it for the reason' },
] as const
</script>

<template>
  <ul class="legend" aria-label="Marks">
    <li v-for="m in marks" :key="m.mark"><StateMark :mark="m.mark" /> {{ m.words }}</li>
    <li><IconHandStop class="hand" :size="14" stroke="2" aria-hidden="true" /> held by hand</li>
    <li><span class="weight" aria-hidden="true" /> held by a rule</li>
  </ul>
</template>

<style scoped>
.legend {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--space-6) var(--space-16);
  font-size: var(--type-small);
  color: var(--ink-soft);
  border-top: 1px solid var(--rule);
  padding-top: var(--space-12);
}
li {
  display: flex;
  gap: var(--space-10);
  align-items: center;
}
.hand {
  color: var(--plum);
  width: 13px;
}
.weight {
  width: 13px;
  height: 10px;
  background: var(--ink-soft);
  clip-path: polygon(25% 0, 75% 0, 100% 100%, 0 100%);
}
</style>
