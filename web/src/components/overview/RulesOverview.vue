<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Mark } from '@/api/types'
import { useHome } from '@/stores/home'

/** The rules that acted today, each on the day's axis. */
const home = useHome()

const start = computed(() => (home.day ? Date.parse(home.day.from) : 0))
const length = computed(() => (home.day ? Date.parse(home.day.to) - start.value : 1))
const share = (at: string | number) => ((new Date(at).getTime() - start.value) / length.value) * 100
const nowShare = computed(() => Math.min(100, Math.max(0, share(home.now))))
const HOURS = [0, 6, 12, 18]
const HOUR = 3_600_000

const acted = computed(() => {
  const by = new Map<string, Mark[]>()
  for (const m of home.day?.marks ?? []) if (m.rule && m.entry) by.set(m.rule, [...(by.get(m.rule) ?? []), m])
  return home.rules
    .flatMap((rule) => (by.has(rule.id) ? [{ rule, marks: by.get(rule.id)! }] : []))
    .sort((a, b) => b.marks.at(-1)!.at.localeCompare(a.marks.at(-1)!.at))
})
const idle = computed(() => home.rules.filter((r) => r.enabled && !acted.value.some((a) => a.rule.id === r.id)))
const off = computed(() => home.rules.filter((r) => !r.enabled))
</script>

<template>
  <section aria-label="What acted today">
    <h2>Acted today</h2>
    <p v-if="!acted.length" class="soft none">No rule has acted yet today.</p>
    <div v-else class="axis">
      <div class="hours mono" aria-hidden="true">
        <span class="scale">
          <span v-for="h in HOURS" :key="h" :style="{ left: share(start + h * HOUR) + '%' }">{{ h }}</span>
        </span>
      </div>
      <ul>
        <li v-for="a in acted" :key="a.rule.id">
          <RouterLink class="name" :to="`/rules/${a.rule.id}`">{{ a.rule.title }}</RouterLink>
          <span class="band">
            <i class="now" :style="{ left: nowShare + '%' }" />
            <RouterLink
              v-for="m in a.marks"
              :key="m.entry"
              class="mark day-mark"
              :class="m.tone"
              :to="`/journal?entry=${m.entry}`"
              :style="{ left: share(m.at) + '%' }"
              :title="`${home.times.exact(m.at)} ${m.text}`"
              :aria-label="`${home.times.exact(m.at)} ${m.text}`"
            />
          </span>
          <b class="mono">{{ a.marks.length }}</b>
        </li>
      </ul>
    </div>
    <template v-if="idle.length">
      <h2>Did not act today</h2>
      <p class="names">
        <template v-for="(r, i) in idle" :key="r.id"
          ><template v-if="i">, </template
          ><RouterLink class="name" :to="`/rules/${r.id}`">{{ r.title }}</RouterLink></template
        >
      </p>
    </template>
    <template v-if="off.length">
      <h2>Switched off</h2>
      <p class="names">
        <template v-for="(r, i) in off" :key="r.id"
          ><template v-if="i">, </template
          ><RouterLink class="name" :to="`/rules/${r.id}`">{{ r.title }}</RouterLink></template
        >
      </p>
    </template>
  </section>
</template>

<style scoped>
section > h2:not(:first-child) {
  margin-top: var(--space-26);
}
.hours {
  height: 20px;
  font-size: var(--type-note);
  color: var(--ink-soft);
}
.scale {
  grid-column: 2;
  position: relative;
}
.scale span {
  position: absolute;
}
ul {
  border-top: 1px solid var(--ink);
}
.hours,
li {
  display: grid;
  grid-template-columns: 200px minmax(0, 1fr) 40px;
}
li {
  align-items: center;
  height: 40px;
  border-bottom: 1px solid var(--rule);
}
.name {
  color: var(--ink);
  text-decoration: none;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.name:hover {
  text-decoration: underline;
}
.band {
  position: relative;
  height: 100%;
  background: var(--sheet);
}
.now {
  position: absolute;
  inset-block: 0;
  width: 1px;
  background: var(--verdigris);
}
.mark {
  top: 8px;
}
b {
  text-align: right;
  font-weight: 500;
}
.names {
  margin-top: var(--space-6);
  line-height: 1.7;
}
.names .name {
  white-space: normal;
}
.none {
  padding: var(--space-8) 0;
}
</style>
