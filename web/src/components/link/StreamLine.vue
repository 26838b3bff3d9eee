<script setup lang="ts">
import { computed } from 'vue'
import type { Sample } from '@/api/types'
import { extent, stepLine, ticks, visible, type Span } from '@/lib/streams'

/** What passed one place of a link, along the time: a stroke for each value, or a line; what a trial would give, dashed. */
const props = defineProps<{
  label: string
  samples: Sample[]
  span: Span
  /** Whether values are drawn as strokes alone, else with the line between them. */
  strokes?: boolean
  /** What is drawn in the color of light: what a target was set to. */
  warm?: boolean
  range?: [number, number]
  trial?: Sample[]
}>()
const WIDTH = 560
const HEIGHT = 34
const shown = computed(() => visible(props.samples, props.span))
const tried = computed(() => visible(props.trial ?? [], props.span))
const frame = computed(() => ({
  span: props.span,
  extent: extent([...shown.value, ...tried.value], props.range),
  width: WIDTH,
  height: HEIGHT,
}))
</script>

<template>
  <svg
    class="stream"
    :viewBox="`0 -6 ${WIDTH} ${HEIGHT + 12}`"
    preserveAspectRatio="none"
    role="img"
    :aria-label="`${label}: ${shown.length} values`"
  >
    <line class="ground" x1="0" :x2="WIDTH" :y1="HEIGHT + 4" :y2="HEIGHT + 4" />
    <path v-if="!strokes" class="line" :class="{ warm }" :d="stepLine(shown, frame)" />
    <path class="ticks" :class="{ warm }" :d="ticks(shown, frame)" />
    <path v-if="tried.length" class="trial" :d="stepLine(tried, frame)" />
  </svg>
</template>

<style scoped>
.stream {
  display: block;
  width: 100%;
  height: 46px;
}
path,
line {
  fill: none;
  vector-effect: non-scaling-stroke;
}
.ground {
  stroke: var(--rule);
}
.ticks {
  stroke: var(--ink-soft);
  stroke-width: 1.2;
}
.line {
  stroke: var(--verdigris);
  stroke-width: 2;
}
.warm {
  stroke: var(--ochre);
}
.trial {
  stroke: var(--ink);
  stroke-width: 1.5;
  stroke-dasharray: 4 3;
}
</style>
