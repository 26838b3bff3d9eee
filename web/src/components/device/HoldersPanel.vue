<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Holder, Property, PropertyState } from '@/api/types'
import { act } from '@/lib/act'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Everybody who has or wants a property, the one in effect first. */
const props = defineProps<{ device: string; property: Property; state: PropertyState }>()
const home = useHome()
const notices = useNotices()

const levels = ['base', 'overlay', 'rule', 'by hand', 'safety']
const addresses: Record<string, string> = {
  rule: '/rules/',
  scene: '/scenes/',
  sequence: '/scenes/',
  link: '/links/',
  mirror: '/mirrors/',
  schedule: '/schedules/',
}
const places: Record<string, string> = {
  page: 'On its page',
  dashboard: 'On a dashboard',
  palette: 'By search',
  try: 'Trying values',
}

function label(h: Holder): string {
  if (h.suspended) return 'rule, waiting'
  if (!h.owner) return h.byHand ? 'by hand' : 'base'
  return levels[h.level] ?? ''
}
function title(h: Holder): string {
  if (h.kind === 'device') return 'At the device or in its maker’s app'
  if (h.kind === 'found') return 'As found'
  if (h.name) return `By ${h.name}`
  if (h.kind === 'hand') return h.owner ? 'Kept by hand' : (places[h.title ?? ''] ?? 'By a program')
  return h.title ?? ''
}
const canKeep = computed(() => !props.state.holders.some((h) => h.owner === 'hand'))

const letGo = (h: Holder) => notices.attempt(() => act.letGo(props.device, props.property.name, h.owner ?? ''))
const keep = (hours?: number) =>
  notices.attempt(() =>
    act.keep(
      props.device,
      props.property.name,
      props.state.target ?? props.state.value,
      hours ? new Date(home.now + hours * 3_600_000).toISOString() : undefined,
    ),
  )
</script>

<template>
  <section>
    <h2>What holds {{ property.title.toLowerCase() }}</h2>
    <ol class="stack">
      <li v-for="(h, i) in state.holders" :key="i" :class="{ top: h.inEffect, hand: h.byHand && h.inEffect }">
        <span class="row"
          ><b class="mono">{{ h.text }}</b
          ><span class="mono label">{{ label(h) }}</span></span
        >
        <span class="row"
          ><RouterLink v-if="addresses[h.kind] && h.id" class="link" :to="addresses[h.kind] + h.id">{{
            title(h)
          }}</RouterLink
          ><span v-else>{{ title(h) }}</span></span
        >
        <span class="row">
          <span class="mono soft when"
            >{{ home.times.since(h.since, home.now)
            }}<template v-if="h.until"> – {{ home.times.since(h.until, home.now) }}</template></span
          >
          <button v-if="h.owner && !h.suspended" class="plain link" @click="letGo(h)">Let go</button>
        </span>
      </li>
    </ol>
    <p v-if="canKeep && state.holders.length" class="keep">
      <span class="soft">Hold this for</span>
      <Button size="small" severity="secondary" label="1 h" @click="keep(1)" />
      <Button size="small" severity="secondary" label="until let go" @click="keep()" />
    </p>
  </section>
</template>

<style scoped>
.stack {
  margin-top: var(--space-8);
  border: 1px solid var(--rule);
}
li {
  padding: var(--space-8) var(--space-14);
  border-left: 4px solid transparent;
}
li + li {
  border-top: 1px solid var(--rule);
}
.top {
  background: var(--sheet);
  border-left-color: var(--verdigris);
}
.top.hand {
  border-left-color: var(--plum);
}
.row {
  display: flex;
  justify-content: space-between;
  gap: var(--space-12);
  align-items: baseline;
}
.label,
.when {
  font-size: var(--type-small);
}
.label {
  color: var(--ink-soft);
}
.keep {
  display: flex;
  gap: var(--space-8);
  align-items: center;
  margin-top: var(--space-10);
  font-size: var(--type-small);
}
</style>
