<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Device, PropertyState } from '@/api/types'
import { mainState, usedProperties } from '@/lib/devices'
import { needsAttention } from '@/lib/care'
import { useHome } from '@/stores/home'
import ReasonLine from '@/components/marks/ReasonLine.vue'
import StateMark from '@/components/marks/StateMark.vue'

/** The devices that changed last, and how many there are of what. */
const home = useHome()
const SHOWN = 14

interface Changed {
  device: Device
  state: PropertyState
  title: string
}
const changed = computed<Changed[]>(() =>
  home.devices
    .flatMap((device) => {
      const telling = mainState(device)
      const used = usedProperties(device)
      const state = device.states
        .filter((s) => s.changedAt && used.some((p) => p.name === s.name && !measures.has(p.role ?? '')))
        .sort((a, b) => b.changedAt!.localeCompare(a.changedAt!))[0]
      if (!state) return []
      const property = used.find((p) => p.name === state.name)!
      return [{ device, state, title: state.name === telling?.name ? '' : property.title.toLowerCase() }]
    })
    .sort((a, b) => b.state.changedAt!.localeCompare(a.state.changedAt!))
    .slice(0, SHOWN),
)
// What drifts all day tells nothing here.
const measures = new Set([
  'temperature',
  'humidity',
  'illuminance',
  'battery',
  'reception',
  'electricPower',
  'energy',
  'level',
])

const figures = computed(() => [
  { count: home.devices.length, title: 'in the home', to: '/devices' },
  { count: home.devices.filter((d) => d.silent).length, title: 'not heard from', to: '/devices?only=silent' },
  { count: home.devices.filter(needsAttention).length, title: 'in need of care', to: '/care' },
  { count: home.newcomers, title: 'found', to: '/found' },
])
</script>

<template>
  <section aria-label="What changed last">
    <ul class="figures">
      <li v-for="f in figures" :key="f.to">
        <RouterLink :to="f.to"
          ><b class="mono">{{ f.count }}</b> {{ f.title }}</RouterLink
        >
      </li>
    </ul>
    <h2>Changed last</h2>
    <ul class="changed">
      <li v-for="c in changed" :key="c.device.id">
        <span class="mono soft time">{{ home.times.since(c.state.changedAt!, home.now) }}</span>
        <StateMark :state="c.state" :silent="c.device.silent" />
        <span class="what"
          ><RouterLink class="named" :to="`/devices/${c.device.id}`">{{ c.device.title }}</RouterLink
          >{{ c.title ? ` ${c.title}` : '' }}</span
        >
        <b class="mono value">{{ c.state.text }}</b>
        <span class="reason"><ReasonLine v-if="c.state.holders.length" :state="c.state" /></span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-26);
  margin-bottom: var(--space-20);
}
.figures a {
  color: var(--ink-soft);
  text-decoration: none;
}
.figures b {
  font-size: var(--type-title);
  font-weight: 500;
  color: var(--ink);
}
.figures a:hover {
  text-decoration: underline;
}
.changed {
  margin-top: var(--space-8);
  border-top: 1px solid var(--ink);
}
.changed li {
  display: grid;
  grid-template-columns: 88px 14px minmax(0, 1.2fr) 110px minmax(0, 1fr);
  gap: var(--space-12);
  align-items: center;
  min-height: 40px;
  border-bottom: 1px solid var(--rule);
}
.time {
  font-size: var(--type-small);
}
.value {
  font-weight: 500;
  text-align: right;
}
.what,
.value {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
/* Where there is little room, the reason stands below the name. */
@media (max-width: 1000px) {
  .changed li {
    grid-template-columns: 72px 14px minmax(0, 1fr) auto;
    row-gap: 0;
  }
  .reason {
    grid-column: 3 / 5;
  }
  .reason:empty {
    display: none;
  }
}
</style>
