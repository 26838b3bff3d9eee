<script setup lang="ts">
import { computed } from 'vue'

/** The last hours of a reading as a line, with a dot at now. It has no figures: those stand beside it. */
const props = withDefaults(
  defineProps<{
    points: { at: number; value: number }[]
    /** The times at its edges, in ms. */
    from: number
    to: number
    /** The least difference that fills the height, so that noise does not look like weather. */
    least?: number
  }>(),
  { least: 1 },
)
const WIDTH = 56
const HEIGHT = 18
const MARGIN = 4

const places = computed(() => {
  const values = props.points.map((p) => p.value)
  const low = Math.min(...values)
  const high = Math.max(...values)
  const span = Math.max(high - low, props.least)
  const bottom = (high + low) / 2 - span / 2
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
</script>

<template>
  <svg class="spark" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" aria-hidden="true">
    <template v-if="last">
      <path :d="`M${line}`" />
      <circle :cx="WIDTH - MARGIN" :cy="last.y" r="3" />
    </template>
  </svg>
</template>

<style scoped>
.spark {
  width: 56px;
  height: 18px;
  flex: none;
}
path {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1.6;
}
circle {
  fill: var(--ink-soft);
}
</style>
