<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { useHome } from '@/stores/home'

/** The coming week of all schedules: the day line grown to seven. */
const home = useHome()
const DAYS = 7
const DAY = 86_400_000
const MINUTES = 1440
const today = computed(() => Math.floor(home.now / 60_000) * 60_000)

const lines = computed(() => {
  const all = home.schedules
    .filter((s) => s.enabled)
    .flatMap((s) =>
      [...new Set([s.state.next, ...s.state.upcoming])].flatMap((at) => (at ? [{ at, schedule: s }] : [])),
    )
  return Array.from({ length: DAYS }, (_, n) => {
    const date = home.times.date(today.value + n * DAY)
    const marks = all
      .filter((m) => Date.parse(m.at) >= today.value && Date.parse(m.at) < today.value + DAYS * DAY)
      .filter((m) => home.times.date(m.at) === date)
      .map((m) => {
        const [h = '0', min = '0'] = home.times.clock(m.at).split(':')
        return { ...m, left: ((Number(h) * 60 + Number(min)) / MINUTES) * 100 }
      })
      .sort((a, b) => a.left - b.left)
    return { date, marks }
  })
})
const HOURS = [6, 12, 18]
</script>

<template>
  <section aria-label="The coming week">
    <h2>The coming week</h2>
    <ol>
      <li v-for="l in lines" :key="l.date">
        <span class="soft date">{{ l.date }}</span>
        <span class="band">
          <i v-for="h in HOURS" :key="h" class="hour" :style="{ left: (h / 24) * 100 + '%' }" />
          <RouterLink
            v-for="m in l.marks"
            :key="m.schedule.id + m.at"
            class="mark"
            :to="`/schedules/${m.schedule.id}`"
            :style="{ left: m.left + '%' }"
            :title="`${home.times.clock(m.at)} ${m.schedule.title}`"
            :aria-label="`${l.date} ${home.times.clock(m.at)} ${m.schedule.title}`"
          />
        </span>
        <span class="names">
          <span v-for="m in l.marks" :key="m.schedule.id + m.at"
            ><span class="mono soft">{{ home.times.clock(m.at) }}</span> {{ m.schedule.title }}</span
          >
        </span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
ol {
  margin-top: var(--space-8);
  border-top: 1px solid var(--ink);
}
li {
  display: grid;
  grid-template-columns: 92px minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--space-14);
  align-items: center;
  border-bottom: 1px solid var(--rule);
  min-height: 48px;
}
@media (max-width: 1000px) {
  li {
    grid-template-columns: 44px minmax(0, 1fr) minmax(0, 2.4fr);
  }
}
.date,
.names {
  font-size: var(--type-small);
}
.names {
  display: grid;
  padding: var(--space-4) 0;
}
.band {
  position: relative;
  align-self: stretch;
  background: var(--sheet);
}
.hour {
  position: absolute;
  inset-block: 0;
  width: 1px;
  background: var(--rule);
}
.mark {
  position: absolute;
  top: calc(50% - 12px);
  width: 24px;
  height: 24px;
  transform: translateX(-50%);
}
.mark::before {
  content: '';
  position: absolute;
  inset: 7px;
  border-radius: 50%;
  border: 2px solid var(--verdigris);
  background: var(--sheet);
}
</style>
