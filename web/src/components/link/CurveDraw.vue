<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { CurvePoint } from '@/api/types'

/** A curve that is drawn: its points are dragged, or moved by the arrow keys; a double click adds one, Delete takes one out. */
const props = defineProps<{ modelValue: CurvePoint[] }>()
const emit = defineEmits<{ 'update:modelValue': [CurvePoint[]] }>()

const SIZE = 160
const NEAR = 0.02
const STEP = 0.02
const MOST = 32
const face = ref<SVGElement>()
const held = ref(-1)
const dragged = ref<CurvePoint[]>()
const points = computed(() => dragged.value ?? props.modelValue)
const path = computed(() => {
  const all = points.value
  if (!all.length) return ''
  const at = (p: CurvePoint) => `${p.x * SIZE},${(1 - p.y) * SIZE}`
  return `M0,${(1 - all[0]!.y) * SIZE}L${all.map(at).join('L')}L${SIZE},${(1 - all.at(-1)!.y) * SIZE}`
})
const within = (v: number, low = 0, high = 1) => Math.round(Math.min(high, Math.max(low, v)) * 1000) / 1000

/** The points with one of them elsewhere, which stays between its neighbors. */
function moved(i: number, x: number, y: number): CurvePoint[] {
  const low = i ? points.value[i - 1]!.x + NEAR : 0
  const high = i < points.value.length - 1 ? points.value[i + 1]!.x - NEAR : 1
  return points.value.map((p, k) => (k === i ? { x: within(x, low, high), y: within(y) } : p))
}
function place(e: MouseEvent) {
  const box = face.value!.getBoundingClientRect()
  return { x: (e.clientX - box.left) / box.width, y: 1 - (e.clientY - box.top) / box.height }
}
useEventListener(window, 'pointermove', (e: PointerEvent) => {
  if (held.value < 0) return
  const at = place(e)
  dragged.value = moved(held.value, at.x, at.y)
})
useEventListener(window, ['pointerup', 'pointercancel'], () => {
  if (held.value < 0) return
  held.value = -1
  if (dragged.value) emit('update:modelValue', dragged.value)
  dragged.value = undefined
})
function add(e: MouseEvent) {
  const at = place(e)
  if (points.value.length >= MOST || points.value.some((p) => Math.abs(p.x - at.x) < NEAR)) return
  emit(
    'update:modelValue',
    [...points.value, { x: within(at.x), y: within(at.y) }].sort((a, b) => a.x - b.x),
  )
}
const MOVES: Record<string, [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, STEP],
  ArrowDown: [0, -STEP],
}
function key(e: KeyboardEvent, i: number) {
  const p = points.value[i]!
  const move = MOVES[e.key]
  if (move) emit('update:modelValue', moved(i, p.x + move[0], p.y + move[1]))
  else if ((e.key === 'Delete' || e.key === 'Backspace') && points.value.length > 2)
    emit(
      'update:modelValue',
      points.value.filter((_, k) => k !== i),
    )
  else return
  e.preventDefault()
  e.stopPropagation()
}
const percent = (v: number) => `${Math.round(v * 100)} %`
</script>

<template>
  <span class="draw">
    <svg ref="face" :viewBox="`0 0 ${SIZE} ${SIZE}`" role="group" aria-label="Curve" @dblclick="add">
      <path class="grid" :d="`M0,${SIZE / 2}H${SIZE}M${SIZE / 2},0V${SIZE}`" />
      <path class="curve" :d="path" />
      <circle
        v-for="(p, i) in points"
        :key="i"
        :cx="p.x * SIZE"
        :cy="(1 - p.y) * SIZE"
        r="6"
        tabindex="0"
        role="button"
        :aria-label="`Point ${i + 1}: ${percent(p.x)} becomes ${percent(p.y)}`"
        @pointerdown.prevent="held = i"
        @keydown="key($event, i)"
      />
    </svg>
    <small class="soft">Drag the points; a double click adds one, Delete removes one.</small>
  </span>
</template>

<style scoped>
.draw {
  display: grid;
  gap: var(--space-4);
  width: 180px;
}
svg {
  width: 160px;
  height: 160px;
  border: 1px solid var(--edge);
  background: var(--sheet);
  overflow: visible;
  touch-action: none;
}
path {
  fill: none;
}
.grid {
  stroke: var(--rule);
}
.curve {
  stroke: var(--verdigris);
  stroke-width: 2;
}
circle {
  fill: var(--verdigris);
  cursor: grab;
}
</style>
