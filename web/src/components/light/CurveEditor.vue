<script setup lang="ts">
import Button from 'primevue/button'
import Slider from 'primevue/slider'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Curve, DayPoint } from '@/api/types'
import DefinitionEditor from '@/components/documents/DefinitionEditor.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import NoteField from '@/components/documents/NoteField.vue'
import UsedBy from '@/components/household/UsedBy.vue'
import MomentToken from '@/components/tokens/MomentToken.vue'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import CurveFace from '@/instruments/CurveFace.vue'
import { sayDay } from '@/lib/clock'
import { useCurveDay } from '@/lib/curveDay'
import { clockOf, pointAt } from '@/lib/curves'
import { documentOf } from '@/lib/documents'
import { useEditing } from '@/lib/editing'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** A day curve: its points, dragged or typed, how it is on any day of the year, and which rooms follow it. */
const props = defineProps<{ curve: Curve }>()
const home = useHome()
const notices = useNotices()
const { edit, copy, set, remove } = useEditing('curve', () => props.curve, '/curves')

// While a point is dragged it is drawn where it is, and saved once it is let go.
const dragged = ref<DayPoint[]>()
const points = computed(() => dragged.value ?? copy.value?.points ?? [])
const chosen = ref<number>()

// The day that is shown.
const today = computed(() => home.times.isoDay(home.now))
const DAYS = 364
const dayOfYear = ref<number>()
const start = (day: string) => Date.UTC(Number(day.slice(0, 4)), 0, 1)
const DAY_MS = 86_400_000
const slid = computed({
  get: () => dayOfYear.value ?? Math.round((Date.parse(today.value) - start(today.value)) / DAY_MS),
  set: (n: number) => (dayOfYear.value = n),
})
const shownDay = computed(() =>
  dayOfYear.value === undefined
    ? ''
    : new Date(start(today.value) + dayOfYear.value * DAY_MS).toISOString().slice(0, 10),
)
const { day, wrong } = useCurveDay(points, shownDay)

const change = (index: number, point: DayPoint) => points.value.map((p, i) => (i === index ? point : p))
function move(index: number, point: DayPoint, done: boolean) {
  const to = change(index, point)
  dragged.value = to
  if (done) set({ points: to })
}
watch(copy, () => (dragged.value = undefined))
const save = (index: number, point: DayPoint) => set({ points: change(index, point) })
function drop(index: number) {
  chosen.value = undefined
  if (points.value.length > 1) set({ points: points.value.filter((_, i) => i !== index) }) // a curve has one at least
}
function add(hour: number) {
  if (!day.value) return
  set({ points: [...points.value, pointAt(day.value, hour)] })
  chosen.value = points.value.length
}
const widestGap = () => {
  const hours = (day.value?.points ?? []).map((p) => p.hour).sort((a, b) => a - b)
  const gaps = [0, ...hours].map((h, i, all) => ({ from: h, to: all[i + 1] ?? 24 }))
  const gap = gaps.reduce((best, g) => (g.to - g.from > best.to - best.from ? g : best))
  return (gap.from + gap.to) / 2
}

/** The points in the order in which they come on the day that is shown. */
const rows = computed(() =>
  points.value
    .map((point, index) => ({ point, index, hour: day.value?.points[index]?.hour ?? 0 }))
    .sort((a, b) => a.hour - b.hour || a.index - b.index),
)
const timeOf = (hour: number) => clockOf(Math.round(hour * 60) % (24 * 60))
const LEVEL = 50
const WHITE = 2700
const says = [
  { value: 'both', title: 'level and white' },
  { value: 'level', title: 'the level alone' },
  { value: 'white', title: 'the white alone' },
]
const said = (p: DayPoint) => (p.level === undefined ? 'white' : p.kelvin === undefined ? 'level' : 'both')
function saySo(index: number, what: string) {
  const p = points.value[index]!
  save(index, {
    at: p.at,
    level: what === 'white' ? undefined : (p.level ?? LEVEL),
    kelvin: what === 'level' ? undefined : (p.kelvin ?? WHITE),
  })
}

// Who follows it.
const following = computed(() => home.lights.filter((l) => l.members.some((m) => m.curve === props.curve.id)))
const others = computed(() =>
  home.lights.filter((l) => l.curve !== props.curve.id).map((l) => ({ value: l.id, title: l.title })),
)
const now = computed(() => home.lights.flatMap((l) => l.members).filter((m) => m.follows === props.curve.id).length)
const follow = (id: string) =>
  notices.attempt(async () => {
    const light = home.lights.find((l) => l.id === id)!
    const from = documentOf('light', light)
    await ask(
      api.PATCH('/api/lights/{id}', {
        params: { path: { id } },
        body: { from, to: { ...from, curve: props.curve.id } },
      }),
    )
    notices.done(`${light.title} follows ${props.curve.title}.`)
  })
const state = computed(() => {
  const at = day.value?.now
  if (!at) return ''
  return [at.level === undefined ? '' : `${Math.round(at.level)} %`, at.kelvin ? `${at.kelvin} K` : '']
    .filter(Boolean)
    .join(', ')
})
</script>

<template>
  <DefinitionEditor
    v-if="copy"
    :edit="edit"
    :title="copy.title"
    label="Name of the curve"
    @update:title="set({ title: $event })"
    @remove="remove"
  >
    <template #state>{{ state && `now ${state}` }}</template>
    <CurveFace
      v-if="day"
      :label="`${copy.title} over the day`"
      :day="day"
      :points="points"
      :chosen="chosen"
      class="face"
      @move="move"
      @choose="chosen = $event"
      @remove="drop"
      @add="add"
    />
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div class="season">
      <span class="soft">As it is on</span>
      <b class="mono">{{ sayDay(shownDay || today) }}</b>
      <Slider v-model="slid" :min="0" :max="DAYS" class="slider" aria-label="Day of the year" />
      <Button v-if="shownDay" size="small" severity="secondary" label="Back to today" @click="dayOfYear = undefined" />
    </div>
    <ul class="points" aria-label="Its points">
      <li v-for="r in rows" :key="r.index" :class="{ chosen: r.index === chosen }" @focusin="chosen = r.index">
        <span class="mono soft">{{ r.point.at.anchor === 'clock' ? '' : timeOf(r.hour) }}</span>
        <span>
          <MomentToken
            :model-value="r.point.at"
            label="Time of the point"
            @update:model-value="$event && save(r.index, { ...r.point, at: $event })"
          />
          <span class="soft"> · </span>
          <NumberToken
            v-if="r.point.level !== undefined"
            :model-value="r.point.level"
            label="Level"
            unit="%"
            :minimum="1"
            :maximum="100"
            @update:model-value="save(r.index, { ...r.point, level: $event })"
          />
          <span v-if="said(r.point) === 'both'" class="soft"> in white of </span>
          <NumberToken
            v-if="r.point.kelvin !== undefined"
            :model-value="r.point.kelvin"
            label="White"
            unit="K"
            :minimum="1000"
            :maximum="25000"
            @update:model-value="save(r.index, { ...r.point, kelvin: $event })"
          />
        </span>
        <small class="soft">
          says
          <TokenPicker
            :model-value="said(r.point)"
            :choices="says"
            label="What the point says"
            @update:model-value="saySo(r.index, $event)"
          />
        </small>
        <button
          v-if="rows.length > 1"
          type="button"
          class="plain soft"
          :aria-label="`Remove the point at ${timeOf(r.hour)}`"
          @click="drop(r.index)"
        >
          ×
        </button>
      </li>
    </ul>
    <p class="line">
      <button type="button" class="plain link" @click="add(widestGap())">Add a point</button>
      <span class="soft small">
        or double-click in the drawing. Drag a point, or move it by the arrow keys; with Shift its white.</span
      >
    </p>
    <p class="line">
      <span class="soft">Lamps that are switched on follow it in </span>
      <template v-for="(l, i) in following" :key="l.id">
        <span v-if="i" class="soft">, </span><RouterLink :to="`/lights/${l.id}`">{{ l.title }}</RouterLink>
      </template>
      <span v-if="following.length" class="soft">, and in </span>
      <TokenPicker
        v-if="others.length"
        :model-value="undefined"
        :choices="others"
        label="Room that is to follow it"
        verb
        :empty="following.length ? 'another room' : 'choose a room'"
        @update:model-value="follow"
      />
      <span class="soft">. {{ now === 1 ? '1 lamp does' : `${now} lamps do` }} now.</span>
    </p>
    <p class="soft small">
      A lamp starts at what the curve says at that moment, and goes on in steps too small to see<template v-if="day"
        >: {{ day.steps }} over this day</template
      >. Set by hand, it leaves the curve until it was off. A scene with values of its own leaves it too.
    </p>
    <NoteField :model-value="copy.note" @update:model-value="set({ note: $event })" />
    <UsedBy :uses="curve.usedBy" />
    <EarlierVersions :id="curve.id" kind="curve" :revision="curve.revision" />
  </DefinitionEditor>
</template>

<style scoped>
.face {
  margin-top: var(--space-14);
}
.wrong {
  color: var(--ember);
  font-size: var(--type-small);
}
.season {
  display: grid;
  grid-template-columns: auto auto minmax(120px, 1fr) auto;
  gap: var(--space-12);
  align-items: center;
  min-height: 34px;
  padding: 0 var(--space-8) var(--space-8) var(--space-34);
  font-size: var(--type-small);
}
.points {
  margin: var(--space-10) 0 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--ink);
}
.points li {
  display: grid;
  grid-template-columns: 52px minmax(0, 1fr) auto 28px;
  gap: var(--space-10);
  align-items: baseline;
  min-height: 40px;
  padding: var(--space-8) 0 var(--space-8) var(--space-8);
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid transparent;
}
.points li.chosen {
  border-left-color: var(--verdigris);
}
.line {
  padding: var(--space-10) 0 0;
}
.small {
  font-size: var(--type-small);
}
@media (max-width: 720px) {
  .points li {
    grid-template-columns: minmax(0, 1fr) auto 28px;
  }
  .points li > :first-child {
    grid-column: 1 / -1;
  }
}
</style>
