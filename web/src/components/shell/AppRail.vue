<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { needsAttention } from '@/lib/care'
import { useHome } from '@/stores/home'
import { useLook } from '@/stores/look'

defineEmits<{ keys: [] }>()

const home = useHome()
const look = useLook()

const places = computed(() => [
  { to: '/found', title: 'Found', count: home.newcomers },
  { to: '/devices', title: 'Devices' },
  { to: '/scenes', title: 'Scenes' },
  { to: '/rules', title: 'Rules', count: home.rules.filter((r) => r.state.problems.length || r.state.stopped).length },
  { to: '/schedules', title: 'Schedules' },
  { to: '/dashboards', title: 'Dashboards' },
  { to: '/household', title: 'Household', count: home.notices.filter((n) => !n.seenAt).length },
  { to: '/journal', title: 'Journal' },
  { to: '/history', title: 'History' },
  { to: '/care', title: 'Care', count: home.devices.filter(needsAttention).length },
])
const down = computed(() => home.connections.filter((c) => c.since && !c.up && !c.paused).length)
</script>

<template>
  <nav class="rail" aria-label="Places">
    <svg class="brand" viewBox="0 0 40 34" aria-hidden="true">
      <path class="first" d="M3 8h10c5 0 5 6 10 6h14" />
      <path d="M3 16h6c5 0 5 6 10 6h18" />
      <path class="last" d="M3 24h2c5 0 5 6 10 6h22" />
    </svg>
    <RouterLink v-for="place in places" :key="place.to" :to="place.to" class="place">
      {{ place.title }}
      <b v-if="place.count" class="mono count">{{ place.count }}</b>
    </RouterLink>
    <span class="space" />
    <RouterLink to="/connections" class="place">
      Connections
      <b v-if="down" class="mono count">{{ down }}</b>
    </RouterLink>
    <RouterLink to="/profiles" class="place">Profiles</RouterLink>
    <RouterLink v-if="home.about?.bench" to="/bench" class="place">Bench</RouterLink>
    <RouterLink to="/rooms" class="place">Rooms</RouterLink>
    <RouterLink to="/house" class="place">House</RouterLink>
    <button class="plain place" @click="look.choice = look.night ? 'day' : 'night'">
      {{ look.night ? 'Day look' : 'Night look' }}
    </button>
    <button class="plain place" @click="$emit('keys')">Keys <kbd class="mono">?</kbd></button>
  </nav>
</template>

<style scoped>
.rail {
  grid-row: 1 / 3;
  border-right: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
  padding: var(--space-14) 0 var(--space-10);
  overflow-y: auto;
}
.brand {
  width: 42px;
  margin: var(--space-2) auto var(--space-16);
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.4;
}
.first {
  stroke: var(--verdigris);
}
.last {
  stroke: var(--ink-soft);
}
.place {
  display: flex;
  gap: var(--space-6);
  align-items: baseline;
  padding: var(--space-8) 0 var(--space-8) var(--space-20);
  font-size: var(--type-small);
  color: var(--ink-soft);
  text-decoration: none;
  border-left: 3px solid transparent;
}
.place:hover {
  color: var(--ink);
}
.router-link-active {
  color: var(--ink);
  font-weight: 650;
  border-left-color: var(--verdigris);
}
.count {
  font-size: var(--type-note);
  color: var(--ember);
}
.space {
  flex: 1;
}
kbd {
  font-size: var(--type-note);
}
@media (max-width: 720px) {
  .rail {
    grid-row: 1;
    flex-direction: row;
    border-right: 0;
    border-bottom: 1px solid var(--rule);
    padding: 0;
    overflow-x: auto;
  }
  .brand,
  .space {
    display: none;
  }
  .place {
    padding: var(--space-12);
    border-left: 0;
  }
}
</style>
