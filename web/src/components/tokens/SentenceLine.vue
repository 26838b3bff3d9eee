<script setup lang="ts">
/** One line of a sentence: what is so now on the left, the words, and since when on the right. */
defineProps<{ depth?: number; problem?: string }>()
</script>

<template>
  <div class="line">
    <span class="left mono"><slot name="left" /></span>
    <div
      class="words"
      :class="{ inner: (depth ?? 0) > 0 }"
      :style="{ marginLeft: Math.max(0, (depth ?? 0) - 1) * 22 + 'px' }"
    >
      <slot />
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    </div>
    <span class="right mono"><slot name="right" /></span>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr) 132px;
  gap: var(--space-14);
  padding: var(--space-4) 0;
  font-size: var(--type-head);
  line-height: 1.6;
}
.left,
.right {
  font-size: var(--type-note);
  line-height: 28px;
  color: var(--ink-soft);
}
.left {
  text-align: right;
  white-space: nowrap;
}
.right {
  text-align: right;
}
.inner {
  border-left: 1px solid var(--rule);
  padding-left: var(--space-16);
}
.problem {
  font-size: var(--type-small);
  color: var(--ember);
  line-height: 1.4;
}
@media (max-width: 900px) {
  .line {
    grid-template-columns: 52px minmax(0, 1fr);
  }
  .right {
    grid-column: 2;
    text-align: left;
    line-height: 1.3;
  }
}
</style>
