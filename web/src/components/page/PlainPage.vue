<script setup lang="ts">
import PageHead from './PageHead.vue'

/** A page about one thing, that is read from its top. */
defineProps<{ title: string }>()
</script>

<template>
  <div class="page">
    <PageHead :title="title">
      <slot name="lead" />
      <template v-if="$slots.buttons" #buttons><slot name="buttons" /></template>
    </PageHead>
    <div class="body"><slot /></div>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: var(--space-20) var(--space-26) var(--space-60);
}
.body {
  margin-top: var(--space-20);
}
@media (max-width: 720px) {
  .page {
    padding-inline: var(--space-14);
  }
}
</style>
