<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { comingUp } from '@/lib/next'
import { useHome } from '@/stores/home'
import FigureRow from './FigureRow.vue'

/** What comes next of schedules and calendars, within a day. */
const home = useHome()
const DAY = 24 * 3_600_000
const SHOWN = 6
const MINUTE = 60_000
// Looked at by the minute, not with each tick of the clock.
const minute = computed(() => Math.floor(home.now / MINUTE) * MINUTE)
const next = computed(() => comingUp(home.schedules, home.calendars, minute.value, minute.value + DAY).slice(0, SHOWN))
</script>

<template>
  <section aria-labelledby="next-up">
    <h2 id="next-up">Next</h2>
    <p v-if="!next.length" class="soft none">Nothing is planned within a day.</p>
    <ul>
      <FigureRow v-for="p in next" :key="p.to + p.at" :figure="home.times.clock(p.at)"
        ><RouterLink class="name" :to="p.to">{{ p.title }}</RouterLink
        ><span v-if="p.from" class="soft"> · {{ p.from }}</span></FigureRow
      >
    </ul>
  </section>
</template>

<style scoped>
.name {
  color: var(--ink);
  text-decoration: none;
}
.name:hover {
  text-decoration: underline;
}
.none {
  padding: var(--space-4) 0;
}
</style>
