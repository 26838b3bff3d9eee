<script setup lang="ts">
import { computed } from 'vue'
import { houseNow, seriesOf } from '@/lib/houseNow'
import { useHome } from '@/stores/home'
import { useLines } from '@/stores/lines'
import FloorRows from './FloorRows.vue'

/** The house now: floors and rooms in one table, read at a glance and operated in place. */
const home = useHome()
const now = computed(() => houseNow(home.rooms, home.devices))
const several = computed(() => now.value.floors.length > 1)
const width = computed(() => {
  const all = new Set<string>(now.value.columns)
  if (all.delete('notes')) all.add('openings') // they stand in one column
  return 1 + all.size
})

const lineOf = useLines(() =>
  now.value.floors.flatMap((f) => f.rooms).flatMap((r) => (r.warmth ? [seriesOf(r.warmth)] : [])),
)

const lampsOn = computed(
  () =>
    home.devices.filter((d) => d.light && d.states.some((s) => s.name === d.light && s.value && s.value !== 0)).length,
)
const watts = computed(() =>
  home.devices.reduce((sum, d) => {
    const used = d.description.properties.find((p) => p.role === 'electricPower')
    const value = used && !d.silent ? d.states.find((s) => s.name === used.name)?.value : 0
    return sum + (typeof value === 'number' ? value : 0)
  }, 0),
)
const KILO = 1000
const summary = computed(() =>
  [
    now.value.columns.has('lamps') ? (lampsOn.value === 1 ? '1 lamp on' : `${lampsOn.value || 'no'} lamps on`) : '',
    watts.value >= KILO
      ? `${(watts.value / KILO).toFixed(1)} kW`
      : watts.value > 0
        ? `${Math.round(watts.value)} W`
        : '',
  ].filter(Boolean),
)
</script>

<template>
  <section aria-labelledby="house-now">
    <header class="top">
      <h1 id="house-now">The house now</h1>
      <p class="soft">{{ summary.join(' · ') }}</p>
    </header>
    <table>
      <thead>
        <tr>
          <th scope="col">Room</th>
          <th v-if="now.columns.has('lamps')" scope="col">Light</th>
          <th v-if="now.columns.has('warmth')" scope="col">Warmth</th>
          <th v-if="now.columns.has('air')" scope="col">Air</th>
          <th v-if="now.columns.has('openings') || now.columns.has('notes')" scope="col">Open and shut</th>
          <th v-if="now.columns.has('somebody')" scope="col">Somebody</th>
        </tr>
      </thead>
      <FloorRows
        v-for="floor in now.floors"
        :key="floor.title"
        :floor="floor"
        :columns="now.columns"
        :width="several ? width : 0"
        :line-of="lineOf"
      />
    </table>
  </section>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: flex-end;
  gap: var(--space-4) var(--space-20);
  margin-bottom: var(--space-8);
}
table {
  border-collapse: collapse;
  width: 100%;
}
thead th {
  font-size: var(--type-note);
  font-weight: 600;
  color: var(--ink-soft);
  text-align: left;
  padding: var(--space-4) var(--space-8) var(--space-4) 0;
  border-bottom: 1px solid var(--ink);
  white-space: nowrap;
}
@media (max-width: 720px) {
  thead {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
  table {
    display: block;
  }
}
</style>
