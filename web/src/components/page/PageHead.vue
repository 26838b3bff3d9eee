<script setup lang="ts">
/** The head of a page about one thing: its name, what it is, and what can be done with it. */
defineProps<{ title: string }>()
</script>

<template>
  <header class="head">
    <div>
      <h1>{{ title }}</h1>
      <p v-if="$slots.default" class="soft"><slot /></p>
    </div>
    <div v-if="$slots.buttons" class="buttons"><slot name="buttons" /></div>
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
