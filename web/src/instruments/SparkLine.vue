<script setup lang="ts">
import { computed } from 'vue'
import type { FaceSize } from '@/lib/faces'
import type { LinePoint } from '@/stores/lines'

/**
 * The last hours of a reading as a line, with a dot at now. Beside a figure it stands alone; larger, it has the least and the
 * most of that time below.
 */
const props = withDefaults(
  defineProps<{
    points: LinePoint[]
    /** The times at its edges, in ms. */
    from: number
    to: number
    /** The least difference that fills the height, so that noise does not look like weather. */
    least?: number
    size?: FaceSize
  }>(),
  { least: 1, size: 'row' },
)
const WIDTH = 56
const HEIGHT = 18
const MARGIN = 4
const HOUR = 3_600_000

const low = computed(() => Math.min(...props.points.map((p) => p.value)))
const high = computed(() => Math.max(...props.points.map((p) => p.value)))
const places = computed(() => {
  const span = Math.max(high.value - low.value, props.least)
  const bottom = (high.value + low.value) / 2 - span / 2
  return props.points.map((p) => {
    const x = ((p.at - props.from) / (props.to - props.from)) * (WIDTH - MARGIN)
    const y = HEIGHT - MARGIN - ((p.value - bottom) / span) * (HEIGHT - 2 * MARGIN)
    return { x: Math.min(WIDTH - MARGIN, Math.max(0, x)), y }
  })
})
const last = computed(() => places.value.at(-1))
// What is known last holds until now.
const line = computed(() =>
  places.value
    .map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`)
    .concat(last.value ? [`${WIDTH - MARGIN} ${last.value.y.toFixed(1)}`] : [])
    .join('L'),
)
/** As finely as the readings differ. */
const say = (value: number) => value.toFixed(high.value - low.value >= 100 ? 0 : 1)
</script>

<template>
  <span class="spark" :class="`at-${size}`">
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" preserveAspectRatio="none" aria-hidden="true">
      <template v-if="last">
        <path :d="`M${line}`" />
        <path :d="`M${WIDTH - MARGIN} ${last.y}h0`" class="dot" />
      </template>
    </svg>
    <span v-if="size !== 'row' && last" class="mono range">
      <span>{{ Math.round((to - from) / HOUR) }} h</span>
      <span>{{ say(low) }} to {{ say(high) }}</span>
    </span>
  </span>
</template>

<style scoped>
.spark {
  display: block;
  flex: none;
}
svg {
  display: block;
  width: 100%;
  height: 18px;
}
.at-row {
  width: 56px;
}
.at-page svg {
  height: 32px;
}
.at-panel svg {
  height: 44px;
}
path {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1.6;
  stroke-linejoin: round;
  vector-effect: non-scaling-stroke;
}
.dot {
  stroke-width: 6;
  stroke-linecap: round;
}
.range {
  display: flex;
  justify-content: space-between;
  font-size: var(--type-note);
  color: var(--ink-soft);
}
</style>
