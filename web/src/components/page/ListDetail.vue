<script setup lang="ts">
import { useRouter } from 'vue-router'

/** A list beside the chosen one's detail; arrow keys move in the list. */
defineProps<{ title: string; note?: string }>()
const router = useRouter()

function onKey(event: KeyboardEvent) {
  const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
  const row = (event.target as HTMLElement).closest('a[data-row]')
  if (!step || !row) return
  const rows = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLAnchorElement>('a[data-row]')]
  const next = rows[rows.indexOf(row as HTMLAnchorElement) + step]
  if (!next) return
  event.preventDefault()
  next.focus()
  void router.replace(next.getAttribute('href') ?? '')
}
</script>

<template>
  <div class="pair">
    <section class="list" :aria-label="title" @keydown="onKey">
      <header>
        <h1>{{ title }}</h1>
        <span class="soft mono note">{{ note }}</span>
      </header>
      <slot name="tools" />
      <div class="rows"><slot name="list" /></div>
    </section>
    <section class="detail"><slot /></section>
  </div>
</template>

<style scoped>
.pair {
  height: 100%;
  display: grid;
  grid-template-columns: minmax(280px, 27vw) minmax(0, 1fr);
}
.list {
  border-right: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
  min-height: 0;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  padding: var(--space-20) var(--space-16) var(--space-10);
}
.note {
  font-size: var(--type-small);
}
.rows {
  overflow-y: auto;
  flex: 1;
  padding-bottom: var(--space-26);
}
.detail {
  overflow-y: auto;
  padding: var(--space-20) var(--space-26) var(--space-44);
  background: var(--paper);
}
@media (max-width: 900px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
    overflow-y: auto;
  }
  .detail {
    overflow: visible;
  }
}
</style>
