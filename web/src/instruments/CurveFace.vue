<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, useId, useTemplateRef } from 'vue'
import type { CurveDay, DayPoint } from '@/api/types'
import { heightOf, MINUTES, moved, raised } from '@/lib/curves'

/**
 * A day curve as it is on one day: how bright by its height, in the white of each hour; night and the present moment behind it. Its
 * points are dragged, or moved by the arrow keys.
 */
const props = withDefaults(
  defineProps<{
    label: string
    day: CurveDay
    /** The points of its document, as they are dragged; without them it is only looked at. */
    points?: DayPoint[]
    chosen?: number
    height?: number
  }>(),
  { points: undefined, chosen: undefined, height: 256 },
)
const emit = defineEmits<{
  /** A point is moved; `done` when it is let go. */
  move: [index: number, point: DayPoint, done: boolean]
  choose: [number]
  remove: [number]
  add: [hour: number]
}>()

const frame = useTemplateRef<HTMLElement>('frame')
const { width: measured } = useElementSize(frame)
const width = computed(() => Math.max(measured.value, 240))
const LEFT = 34
const RIGHT = 8
const TOP = 38
const FOOT = 22
const HOURS = 24
const bottom = computed(() => props.height - FOOT)
const x = (hour: number) => LEFT + (hour / HOURS) * (width.value - LEFT - RIGHT)
const y = (height: number) => bottom.value - height * (bottom.value - TOP)
const byLevel = computed(() => props.day.along.some((a) => a.level !== undefined))
const drawn = computed(() =>
  props.day.along.flatMap((a) => {
    const height = heightOf(a, byLevel.value)
    return height === undefined ? [] : [{ x: x(a.hour), y: y(height), swatch: a.swatch, hour: a.hour }]
  }),
)
const line = computed(() => drawn.value.map((d, i) => `${i ? 'L' : 'M'}${d.x.toFixed(1)} ${d.y.toFixed(1)}`).join(''))
const body = computed(() =>
  drawn.value.length ? `${line.value}L${x(HOURS)} ${bottom.value}L${x(0)} ${bottom.value}Z` : '',
)
const fill = useId()
const marks = computed(() =>
  byLevel.value
    ? [25, 50, 75, 100].map((v) => ({ text: `${v}`, y: y(v / 100) }))
    : [2000, 2700, 4000, 6500].map((v) => ({ text: `${v}`, y: y(heightOf({ kelvin: v }, false)!) })),
)
const HOUR_MARKS = [3, 6, 9, 12, 15, 18, 21]

const dots = computed(() =>
  (props.points ?? []).flatMap((point, index) => {
    const at = props.day.points[index]
    if (!at) return []
    // A point that does not say how bright stands on the line.
    const height = heightOf(point, byLevel.value) ?? heightOf(at, byLevel.value) ?? 0
    const says = [
      point.level === undefined ? '' : `${point.level} %`,
      point.kelvin === undefined ? '' : `${point.kelvin} K`,
    ].filter(Boolean)
    return [{ index, point, x: x(at.hour), y: y(height), height, says: says.join(', '), clock: clock(at.hour) }]
  }),
)
function clock(hour: number) {
  const minutes = Math.round(hour * 60)
  return `${String(Math.floor(minutes / 60) % HOURS).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`
}
/** Where what is said of a point is written: at the edge to its inside, so that it is not cut off. */
const anchored = (at: number) => (at < LEFT + 40 ? 'start' : at > width.value - 50 ? 'end' : 'middle')

const now = computed(() => {
  const at = props.day.now
  if (!at) return undefined
  const text = [at.level === undefined ? '' : `${Math.round(at.level)} %`, at.kelvin ? `${at.kelvin} K` : '']
  return { x: x(at.hour), text: text.filter(Boolean).join(', ') }
})

let held: { index: number; from: DayPoint; x: number; y: number; height: number } | undefined
function grab(event: PointerEvent, index: number) {
  const dot = dots.value.find((d) => d.index === index)!
  held = { index, from: dot.point, x: event.clientX, y: event.clientY, height: dot.height }
  ;(event.currentTarget as SVGElement).setPointerCapture(event.pointerId)
  emit('choose', index)
}
function dragged(event: PointerEvent, done: boolean) {
  if (!held) return
  const hours = ((event.clientX - held.x) / (width.value - LEFT - RIGHT)) * HOURS
  const minutes = Math.round((hours * 60) / MINUTES) * MINUTES
  const height = held.height - (event.clientY - held.y) / (bottom.value - TOP)
  const says = byLevel.value ? held.from.level : held.from.kelvin
  const to = moved(says === undefined ? held.from : raised(held.from, height, byLevel.value), minutes)
  emit('move', held.index, to, done)
  if (done) held = undefined
}
const WHITE_STEP = 50
function key(event: KeyboardEvent, index: number) {
  const point = props.points![index]!
  const along = { ArrowLeft: -MINUTES, ArrowRight: MINUTES }[event.key]
  const up = { ArrowUp: 1, ArrowDown: -1 }[event.key]
  if (event.key === 'Delete' || event.key === 'Backspace') emit('remove', index)
  else if (along) emit('move', index, moved(point, along), true)
  else if (up && (event.shiftKey || point.level === undefined)) {
    if (point.kelvin === undefined) return
    emit('move', index, { ...point, kelvin: Math.min(25_000, Math.max(1000, point.kelvin + up * WHITE_STEP)) }, true)
  } else if (up) emit('move', index, { ...point, level: Math.min(100, Math.max(1, (point.level ?? 1) + up)) }, true)
  else return
  event.preventDefault()
}
function add(event: MouseEvent) {
  const left = (event.currentTarget as SVGElement).getBoundingClientRect().left
  emit('add', ((event.clientX - left - LEFT) / (width.value - LEFT - RIGHT)) * HOURS)
}
</script>

<template>
  <div ref="frame" class="frame">
    <svg
      :width="width"
      :height="height"
      :viewBox="`0 0 ${width} ${height}`"
      role="group"
      :aria-label="label"
      @dblclick.self="points && add($event)"
    >
      <defs>
        <linearGradient :id="fill" gradientUnits="userSpaceOnUse" :x1="x(0)" :x2="x(HOURS)" y1="0" y2="0">
          <stop
            v-for="d in drawn"
            :key="d.hour"
            :offset="d.hour / HOURS"
            :style="d.swatch && `stop-color: ${d.swatch}`"
          />
        </linearGradient>
      </defs>
      <template v-if="day.set !== undefined">
        <rect class="night" :x="x(0)" :y="TOP" :width="x(day.rise ?? 0) - x(0)" :height="bottom - TOP" />
        <rect
          class="night"
          :x="x(day.set)"
          :y="TOP"
          :width="Math.max(0, x(HOURS) - x(day.set))"
          :height="bottom - TOP"
        />
      </template>
      <g class="marks" aria-hidden="true">
        <template v-for="m in marks" :key="m.text">
          <path :d="`M${LEFT} ${m.y}H${width - RIGHT}`" />
          <text :x="LEFT - 6" :y="m.y + 4" text-anchor="end">{{ m.text }}</text>
        </template>
        <text v-for="h in HOUR_MARKS" :key="h" :x="x(h)" :y="height - 6" text-anchor="middle">{{ h }}</text>
      </g>
      <path :d="body" class="body" :style="drawn[0]?.swatch && `fill: url(#${fill})`" />
      <path :d="line" class="curve" />
      <path :d="`M${LEFT} ${bottom}H${width - RIGHT}`" class="ground" />
      <g v-if="now" class="now">
        <path :d="`M${now.x} 2V${bottom}`" />
        <text :x="now.x + (now.x > width - 120 ? -6 : 6)" :y="11" :text-anchor="now.x > width - 120 ? 'end' : 'start'">
          {{ now.text }}
        </text>
      </g>
      <g
        v-for="d in dots"
        :key="d.index"
        class="dot"
        :class="{ chosen: d.index === chosen }"
        role="slider"
        tabindex="0"
        :aria-label="`Point at ${d.clock}`"
        aria-valuemin="1"
        :aria-valuemax="byLevel ? 100 : 25000"
        :aria-valuenow="(byLevel ? d.point.level : d.point.kelvin) ?? 1"
        :aria-valuetext="d.says"
        @pointerdown.prevent="grab($event, d.index)"
        @pointermove="dragged($event, false)"
        @pointerup="dragged($event, true)"
        @pointercancel="dragged($event, true)"
        @focus="emit('choose', d.index)"
        @keydown="key($event, d.index)"
      >
        <circle class="touch" :cx="d.x" :cy="d.y" r="16" />
        <circle class="bead" :class="{ sun: d.point.at.anchor !== 'clock' }" :cx="d.x" :cy="d.y" r="5.5" />
        <text :x="d.x" :y="d.y - 11" :text-anchor="anchored(d.x)">
          {{ d.point.kelvin ?? d.point.level }}
          <tspan class="unit">{{ d.point.kelvin ? 'K' : '%' }}</tspan>
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.frame {
  width: 100%;
  overflow: hidden;
}
svg {
  display: block;
}
.night {
  fill: var(--sky-night);
  opacity: 0.55;
  pointer-events: none;
}
.marks {
  pointer-events: none;
}
.marks path {
  stroke: var(--rule);
}
text {
  font: var(--type-note) var(--mono);
  fill: var(--ink-soft);
}
.body {
  fill: var(--lamplight);
  opacity: 0.85;
  pointer-events: none;
}
.curve {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
  pointer-events: none;
}
.ground {
  stroke: var(--ink);
  pointer-events: none;
}
.now {
  pointer-events: none;
}
.now path {
  stroke: var(--verdigris);
  stroke-width: 1.6;
}
.now text {
  fill: var(--verdigris);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 4px;
}
.dot {
  touch-action: none; /* it is dragged; beside it the page scrolls */
  cursor: grab;
  outline: none;
}
.dot:active {
  cursor: grabbing;
}
.touch {
  fill: transparent;
}
.bead {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.6;
}
.bead.sun {
  fill: var(--ochre);
}
.dot.chosen .bead {
  stroke: var(--verdigris);
  stroke-width: 3;
}
.dot:focus-visible .touch {
  stroke: var(--verdigris);
  stroke-width: 2;
}
.dot text {
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
  pointer-events: none;
}
</style>
