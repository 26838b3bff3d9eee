<script setup lang="ts">
import Button from 'primevue/button'
import InputNumber from 'primevue/inputnumber'
import MultiSelect from 'primevue/multiselect'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import type { Keeping, Kept, Property, Series } from '@/api/types'
import ErrorNote from '@/components/page/ErrorNote.vue'
import SeriesChart, { type Line } from '@/components/history/SeriesChart.vue'
import StateBands from '@/components/history/StateBands.vue'
import StayBands from '@/components/history/StayBands.vue'
import { likelyTogether, ofTime, pan, shareWords, type Span, spans, zoom } from '@/lib/history'
import { usedProperties } from '@/lib/devices'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Looks back: several properties over any time, from the last minutes to years. What is shown is in the address. */
const home = useHome()
const notices = useNotices()
const route = useRoute()
const router = useRouter()

const MOST = 12
const DAY = 86_400_000
const tokens = ['--verdigris', '--ember', '--slate', '--plum', '--ochre', '--ink']

const listed = (q: unknown): string[] => (Array.isArray(q) ? q : q ? [q] : []).map(String)
const chosen = computed({
  get: () => listed(route.query.series),
  set: (series: string[]) => void router.replace({ query: { ...route.query, series: series.slice(0, MOST) } }),
})
/** Without a time in the address the last day is shown, and goes on with the clock. */
const follows = computed(() => !route.query.from)
const length = computed(() => Number(route.query.last) || DAY)
const span = ref<Span>({ from: home.now - DAY, to: home.now })
function follow() {
  if (!follows.value) {
    span.value = { from: Date.parse(String(route.query.from)), to: Date.parse(String(route.query.to)) }
    if (!(span.value.from < span.value.to)) span.value = { from: home.now - DAY, to: home.now }
    return
  }
  span.value = { from: home.now - length.value, to: home.now }
}
function show(to: Span) {
  void router.replace({
    query: {
      ...route.query,
      last: undefined,
      from: new Date(to.from).toISOString(),
      to: new Date(to.to).toISOString(),
    },
  })
}
const showLast = (ms: number) =>
  void router.replace({ query: { ...route.query, from: undefined, to: undefined, last: String(ms) } })

const choices = computed(() =>
  home.everything
    .flatMap((d) =>
      usedProperties(d).map((p) => ({ value: `${d.id}~${p.name}`, title: `${d.title}: ${p.title.toLowerCase()}` })),
    )
    .sort((a, b) => a.title.localeCompare(b.title, undefined, { numeric: true })),
)

const likely = computed(() => likelyTogether(home.everything, MOST))

const all = ref<Series[]>([])
const failed = ref('')
const reading = ref(false)
let turn = 0
async function read() {
  const mine = ++turn
  if (!chosen.value.length) {
    all.value = []
    return
  }
  reading.value = true
  try {
    const list = await ask(
      api.GET('/api/history', {
        params: {
          query: {
            series: chosen.value,
            from: new Date(span.value.from).toISOString(),
            to: new Date(Math.min(span.value.to, home.now + 1000)).toISOString(),
          },
        },
      }),
    )
    if (mine !== turn) return
    all.value = list
    failed.value = ''
  } catch (error) {
    if (mine === turn) failed.value = reasonOf(error)
  }
  if (mine === turn) reading.value = false
}

interface Shown extends Line {
  key: string
}
const shown = computed<Shown[]>(() =>
  all.value.flatMap((series, i) => {
    const device = home.device(series.device)
    const property: Property | undefined = home.property(series.device, series.property)
    return device && property
      ? [
          {
            key: `${series.device}~${series.property}`,
            title: `${device.title}: ${property.title.toLowerCase()}`,
            property,
            series,
            color: tokens[i % tokens.length]!,
          },
        ]
      : []
  }),
)
const lines = computed(() => shown.value.filter((s) => s.property.type === 'number'))
const units = computed(() => new Set(lines.value.map((l) => l.property.unit)).size)
const states = computed(() => shown.value.filter((s) => s.property.type === 'boolean'))
const inWords = computed(() => shown.value.filter((s) => !['number', 'boolean'].includes(s.property.type)))

watch(
  () => route.query,
  () => {
    follow()
    void read()
  },
)
// The present moves on; what follows it is read anew now and then.
const OFTEN = 5000
let last = home.now
watch(
  () => home.now,
  (now) => {
    if (!follows.value || Math.abs(now - last) < Math.max(OFTEN, length.value / 2000)) return
    last = now
    follow()
    void read()
  },
)

const keeping = ref<Keeping>()
const kept = ref<Kept>({ days: 0, journalDays: 0, revisions: 0 })
async function readKeeping() {
  await notices.attempt(async () => {
    keeping.value = await ask(api.GET('/api/history/keeping'))
    kept.value = bounds(keeping.value)
  })
}
const bounds = ({ days, journalDays, revisions }: Kept): Kept => ({ days, journalDays, revisions })
const keptOtherwise = computed(
  () => keeping.value && JSON.stringify(bounds(keeping.value)) !== JSON.stringify(kept.value),
)
async function keep() {
  const before = keeping.value && bounds(keeping.value)
  const put = (body: Kept) => ask(api.PUT('/api/history/keeping', { body }))
  await notices.attempt(async () => {
    await put(kept.value)
    notices.done('How long things are kept was changed.', before ? () => put(before).then(readKeeping) : undefined)
    await readKeeping()
  })
}
onMounted(() => {
  follow()
  void read()
  void readKeeping()
})

const at = ref<number>()
const near = (s: Shown) => {
  if (at.value === undefined) return undefined
  let found: number | undefined
  for (const p of s.series.points) {
    if (Date.parse(p.at) > at.value) break
    found = p.value
  }
  return found
}
function wordsAt(s: Shown): string {
  const moment = at.value
  if (moment === undefined) return ''
  return (s.series.stays ?? []).find((x) => Date.parse(x.from) <= moment && Date.parse(x.to) > moment)?.text ?? '–'
}
const say = (value: number | undefined, p: Property) =>
  value === undefined || !Number.isFinite(value) ? '–' : `${Number(value.toFixed(p.resolution < 1 ? 1 : 0))}`
const table = computed(() => shown.value.map((s) => ({ ...s, sum: s.series.summary })))
/** For how many seconds the histories are looked at, up to now. */
const lookedAt = computed(() => (Math.min(span.value.to, home.now) - span.value.from) / 1000)
const share = (mean: number | undefined, known: number | undefined) =>
  mean === undefined ? '–' : `${Math.round(mean * 100)} % ${ofTime(known, lookedAt.value)}`
const megabytes = (bytes: number) =>
  bytes < 1e6 ? `${Math.round(bytes / 1e3)} kB` : `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`
const csv = computed(() => {
  const query = new URLSearchParams([
    ...chosen.value.map((s) => ['series', s]),
    ['from', new Date(span.value.from).toISOString()],
    ['to', new Date(span.value.to).toISOString()],
  ])
  return `/api/history.csv?${query}`
})
const spanSays = computed(() => {
  const s = all.value.find((x) => x.spanSeconds)?.spanSeconds
  if (!s) return 'every reading'
  return s < 3600 ? `means over ${s / 60} min` : s < 86400 ? `means over ${s / 3600} h` : `means over ${s / 86400} days`
})
</script>

<template>
  <div class="page">
    <header class="head">
      <div>
        <h1>History</h1>
        <p class="soft">Everything that was read, from the last minutes to years back.</p>
      </div>
      <a v-if="chosen.length" class="link" :href="csv" download="history.csv">As a table (CSV)</a>
    </header>

    <div class="tools">
      <MultiSelect
        v-model="chosen"
        :options="choices"
        option-value="value"
        option-label="title"
        filter
        :selection-limit="MOST"
        :max-selected-labels="1"
        selected-items-label="{0} chosen"
        :show-toggle-all="false"
        placeholder="Choose what to look at"
        aria-label="What to look at"
        class="which"
      />
      <span class="group" role="group" aria-label="How far back">
        <Button
          v-for="s in spans"
          :key="s.title"
          class="span"
          size="small"
          :severity="follows && length === s.length ? undefined : 'secondary'"
          :aria-pressed="follows && length === s.length"
          :label="s.title"
          @click="showLast(s.length)"
        />
      </span>
      <span class="group" role="group" aria-label="Move">
        <Button size="small" severity="secondary" label="←" aria-label="Earlier" @click="show(pan(span, -0.5))" />
        <Button size="small" severity="secondary" label="→" aria-label="Later" @click="show(pan(span, 0.5))" />
        <Button size="small" severity="secondary" label="+" aria-label="Nearer" @click="show(zoom(span, 0.5))" />
        <Button size="small" severity="secondary" label="−" aria-label="Further" @click="show(zoom(span, 2))" />
      </span>
    </div>

    <section v-if="!chosen.length" class="likely" aria-labelledby="likely">
      <h2 id="likely">Looked at together</h2>
      <ul>
        <li v-for="l in likely" :key="l.title">
          <button type="button" class="plain link" @click="chosen = l.series">{{ l.title }}</button>
          <span class="mono soft">{{ l.series.length }}</span>
        </li>
      </ul>
      <p class="soft">Or choose from the list what you want beside each other: a temperature and its heater, say.</p>
    </section>
    <template v-else>
      <p class="soft small when" role="status">
        {{ home.times.date(span.from) }} {{ home.times.clock(span.from) }} – {{ home.times.date(span.to) }}
        {{ home.times.clock(span.to) }}, {{ spanSays }}<template v-if="reading">, reading …</template>
      </p>
      <ErrorNote v-if="failed" :reason="failed" @again="read" />
      <SeriesChart
        v-if="lines.length"
        :lines="lines"
        :span="span"
        :label="lines.map((l) => l.title).join(', ')"
        @span="show"
        @at="at = $event"
      />
      <StateBands
        v-for="s in states"
        :key="s.key"
        :title="s.title"
        :word="s.property.words?.[1] ?? 'yes'"
        :series="s.series"
        :span="span"
        :color="s.color"
        :inset="units > 1"
      />
      <StayBands
        v-for="s in inWords"
        :key="s.key"
        :title="s.title"
        :series="s.series"
        :span="span"
        :color="s.color"
        :inset="units > 1"
      />
      <table class="sums">
        <thead>
          <tr>
            <th>What</th>
            <th>{{ at === undefined ? 'At the pointer' : home.times.clock(at) }}</th>
            <th>Min</th>
            <th>Mean</th>
            <th>Max</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in table" :key="s.key">
            <td><i class="swatch" :style="{ background: `var(${s.color})` }" aria-hidden="true" /> {{ s.title }}</td>
            <template v-if="s.property.type === 'number'">
              <td class="mono">{{ say(near(s), s.property) }}</td>
              <td class="mono">{{ say(s.sum?.least, s.property) }}</td>
              <td class="mono">{{ say(s.sum?.mean, s.property) }}</td>
              <td class="mono">{{ say(s.sum?.most, s.property) }} {{ s.property.unit }}</td>
            </template>
            <template v-else-if="s.property.type !== 'boolean'">
              <td class="mono">{{ wordsAt(s) }}</td>
              <td colspan="3" class="mono">{{ shareWords(s.series, lookedAt) }}</td>
            </template>
            <template v-else>
              <td />
              <td />
              <td class="mono">{{ share(s.sum?.mean, s.sum?.knownSeconds) }}</td>
              <td />
            </template>
          </tr>
        </tbody>
      </table>
      <p class="soft small">Drag over the chart to go nearer, scroll to zoom, arrow keys to move.</p>
    </template>

    <section v-if="keeping" class="keeping" aria-label="How long things are kept">
      <h2>How long things are kept</h2>
      <p class="row">
        <label for="days">Readings, for</label>
        <InputNumber v-model="kept.days" input-id="days" :min="7" :max="36500" suffix=" days" />
      </p>
      <p class="row">
        <label for="journal-days">The journal, for</label>
        <InputNumber v-model="kept.journalDays" input-id="journal-days" :min="7" :max="36500" suffix=" days" />
      </p>
      <p class="row">
        <label for="revisions">Of each rule, scene and other definition, the newest</label>
        <InputNumber v-model="kept.revisions" input-id="revisions" :min="10" :max="100000" suffix=" versions" />
        <Button v-if="keptOtherwise" size="small" label="Save" @click="keep" />
      </p>
      <p class="soft small">
        The data takes {{ megabytes(keeping.bytes) }}, about {{ megabytes(keeping.bytesPerDay) }} more each day:
        {{ megabytes(keeping.bytesPerDay * kept.days) }} in {{ kept.days }} days. Means, least and most over 10 minutes,
        hours and days are kept for good.
      </p>
    </section>
  </div>
</template>

<style scoped>
.span {
  white-space: nowrap;
}
.likely {
  padding-block: var(--space-20) var(--space-34);
}
.likely ul {
  columns: 240px;
  column-gap: var(--space-34);
  margin-block: var(--space-6) var(--space-14);
}
.likely li {
  display: flex;
  justify-content: space-between;
  gap: var(--space-12);
  border-top: 1px solid var(--rule);
  padding-block: var(--space-8);
  break-inside: avoid;
}
.page {
  height: 100%;
  overflow-y: auto;
  padding: var(--space-20) var(--space-26) var(--space-44);
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: flex-end;
  border-bottom: 1px solid var(--rule);
  padding-bottom: var(--space-12);
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-10) var(--space-16);
  align-items: center;
  padding: var(--space-14) 0 var(--space-6);
}
.which {
  width: 380px;
}
.group {
  display: inline-flex;
  gap: var(--space-4);
}
.when {
  padding: var(--space-2) 0 var(--space-8);
}
.small {
  font-size: var(--type-small);
}
.sums {
  width: 100%;
  margin-top: var(--space-14);
  border-collapse: collapse;
  font-size: var(--type-small);
}
.sums th,
.sums td {
  text-align: right;
  padding: var(--space-4) var(--space-14) var(--space-4) 0;
  border-bottom: 1px solid var(--rule);
}
.sums th:first-child,
.sums td:first-child {
  text-align: left;
  width: 50%;
}
.sums th {
  font-weight: 500;
  color: var(--ink-soft);
}
.swatch {
  display: inline-block;
  width: 11px;
  height: 11px;
  margin-right: var(--space-6);
  border-radius: 2px;
}
.keeping {
  margin-top: var(--space-34);
}
.row {
  display: flex;
  gap: var(--space-12);
  align-items: center;
  padding: var(--space-6) 0;
}
</style>
