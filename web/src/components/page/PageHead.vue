<script setup lang="ts">
import type { Pick } from '@/api/types'
import KeepAtHand from './KeepAtHand.vue'

/** The head of a page about one thing: its name, what it is, and what can be done with it. */
defineProps<{
  title: string
  /** What is kept at hand from here, if it can be. */
  pick?: Pick
}>()
</script>

<template>
  <header class="head">
    <div>
      <h1>{{ title }}</h1>
      <p v-if="$slots.default" class="soft"><slot /></p>
    </div>
    <div v-if="$slots.buttons || pick" class="buttons">
      <KeepAtHand v-if="pick" :pick="pick" :title="title" />
      <slot name="buttons" />
    </div>
  </header>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: var(--space-12) var(--space-20);
  align-items: flex-end;
  border-bottom: 1px solid var(--rule);
  padding-bottom: var(--space-14);
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
}
</style>
