<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { partAt, partsOf, placeAt } from '@/lib/places'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'

/** The parts of the place that is looked at, where it has several. */
const home = useHome()
const route = useRoute()
const place = computed(() => placeAt(route.path))
const here = computed(() => partAt(route.path))
const session = useSession()
const parts = computed(() => (place.value ? partsOf(home, place.value, session.setsUp) : []))
</script>

<template>
  <nav v-if="parts.length > 1" class="parts" :aria-label="`Parts of ${place!.title}`">
    <RouterLink v-for="p in parts" :key="p.to" :to="p.to" class="part" :class="{ here: p === here }">
      {{ p.title }}
      <b v-if="p.waits?.(home)" class="mono count">{{ p.waits(home) }}</b>
    </RouterLink>
  </nav>
</template>

<style scoped>
.parts {
  display: flex;
  gap: var(--space-26);
  overflow-x: auto;
  padding: 0 var(--space-26) 0 var(--space-16);
  border-bottom: 1px solid var(--rule);
  min-width: 0;
}
.part {
  flex: none;
  padding: var(--space-10) 0 var(--space-8);
  font-size: var(--type-small);
  color: var(--ink-soft);
  text-decoration: none;
  border-bottom: 2px solid transparent;
}
.part:hover {
  color: var(--ink);
}
.here {
  color: var(--ink);
  font-weight: 650;
  border-bottom-color: var(--verdigris);
}
.count {
  font-size: var(--type-note);
  color: var(--ember);
}
</style>
