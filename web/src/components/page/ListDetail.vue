<script setup lang="ts">
import { IconChevronLeft } from '@tabler/icons-vue'
import { RouterLink, useRouter } from 'vue-router'

/**
 * A list beside the chosen one's detail; arrow keys move in the list. Where nothing is chosen, the detail shows what is worth
 * knowing of all. On a narrow screen there is one after the other.
 */
defineProps<{
  title: string
  note?: string
  /** Whether something is chosen. */
  chosen: boolean
  /** Where the list is alone, on a narrow screen. */
  back: string
}>()
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
  <div class="pair" :class="{ opened: chosen }">
    <section class="list" :aria-label="title" @keydown="onKey">
      <header>
        <h1>{{ title }}</h1>
        <span class="soft mono note">{{ note }}</span>
      </header>
      <slot name="tools" />
      <div class="rows"><slot name="list" /></div>
    </section>
    <section class="detail">
      <RouterLink :to="back" class="back link"><IconChevronLeft :size="18" stroke="2" /> {{ title }}</RouterLink>
      <slot />
    </section>
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
.back {
  display: none;
}
@media (max-width: 720px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }
  .list {
    border-right: 0;
  }
  .pair.opened .list,
  .pair:not(.opened) .detail {
    display: none;
  }
  .detail {
    padding: var(--space-12) var(--space-14) var(--space-44);
  }
  .back {
    display: inline-flex;
    align-items: center;
    min-height: var(--touch);
  }
}
</style>
