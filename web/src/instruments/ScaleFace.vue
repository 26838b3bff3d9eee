<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import type { Certainty } from '@/lib/certainty'
import type { FaceSize } from '@/lib/faces'
import { nearest, placeOn, ticks } from './scale'

/** What all scales have: a face that is dragged anywhere, moved by keys, and said to screen readers. What is drawn on it is given. */
const props = defineProps<{
  label: string
  /** What is set further by keys: what was asked for last. */
  aimed: number
  /** The value, and how certain it is, in words. */
  words: string
  minimum: number
  maximum: number
  step: number
  size: FaceSize
  disabled: boolean
  certainty: Certainty
  /** How high the drawing is. */
  height: number
  /** The graduation: where its line is, and how far its ticks reach over and under it, small ones and large. */
  graduation: { line: number; over: [number, number]; under: [number, number] }
}>()
const emit = defineEmits<{ set: [number] }>()

const MARGIN = 10
/** By how much of the scale a page key moves. */
const PAGE = 10

const face = useTemplateRef<SVGSVGElement>('face')
const { width } = useElementSize(face)
/** On a panel everything is drawn larger. */
const larger = computed(() => (props.size === 'panel' ? 1.5 : 1))
const wide = computed(() => Math.max(width.value, 60) / larger.value)
const x = (value: number) => placeOn(value, props.minimum, props.maximum, MARGIN, wide.value - MARGIN)
const graduated = computed(() => {
  const { line, over, under } = props.graduation
  const lines = ticks(props.minimum, props.maximum).map((t) => {
    const size = Number(t.large)
    return `M${x(t.value).toFixed(1)} ${line - over[size]!}V${line + under[size]!}`
  })
  return `${lines.join('')}M${x(props.minimum)} ${line}H${x(props.maximum)}`
})

const to = (value: number) => emit('set', nearest(value, props.minimum, props.maximum, props.step))
const dragging = ref(false)
function point(event: PointerEvent) {
  if (!dragging.value) return
  const box = face.value!.getBoundingClientRect()
  const margin = MARGIN * larger.value
  const share = (event.clientX - box.left - margin) / (box.width - 2 * margin)
  to(props.minimum + share * (props.maximum - props.minimum))
}
function press(event: PointerEvent) {
  if (props.disabled || event.button !== 0) return
  dragging.value = true
  face.value!.setPointerCapture(event.pointerId)
  point(event)
}
function key(event: KeyboardEvent) {
  const { minimum, maximum, step, disabled } = props
  if (disabled) return
  const page = Math.max(step, (maximum - minimum) / PAGE)
  const moves: Record<string, number> = {
    ArrowRight: props.aimed + step,
    ArrowUp: props.aimed + step,
    ArrowLeft: props.aimed - step,
    ArrowDown: props.aimed - step,
    PageUp: props.aimed + page,
    PageDown: props.aimed - page,
    Home: minimum,
    End: maximum,
  }
  const next = moves[event.key]
  if (next === undefined) return
  event.preventDefault()
  to(next)
}
const released = () => (dragging.value = false)
</script>

<template>
  <span class="scale" :class="[`at-${size}`, certainty, { dragging, disabled }]">
    <span class="still">
      <svg
        ref="face"
        :viewBox="`0 0 ${wide} ${height}`"
        role="slider"
        :tabindex="disabled ? undefined : 0"
        :aria-label="label"
        :aria-valuenow="aimed"
        :aria-valuemin="minimum"
        :aria-valuemax="maximum"
        :aria-valuetext="words"
        :aria-disabled="disabled || undefined"
        @pointerdown="press"
        @pointermove="point"
        @pointerup="released"
        @pointercancel="released"
        @keydown="key"
      >
        <path :d="graduated" class="tick" />
        <slot :x="x" />
      </svg>
    </span>
  </span>
</template>

<style scoped>
.scale {
  display: block;
  min-width: 60px;
}
/* What moves on the scale has only the scale laid out anew. A browser takes a box for such only where it is no part of a row. */
.still {
  display: block;
  height: 100%;
  contain: size layout style;
}
svg {
  display: block;
  width: 100%;
  height: 100%;
  touch-action: pan-y;
  cursor: pointer;
  overflow: visible;
}
.disabled svg {
  cursor: default;
}
</style>

<!-- What is drawn comes from the scale that uses the face. -->
<style>
.scale path {
  fill: none;
}
.scale .tick {
  stroke: var(--ink-soft);
  stroke-width: 1.1;
}
.scale .wedge {
  fill: var(--verdigris);
  stroke: var(--ink);
  stroke-width: 1.4;
  stroke-linejoin: round;
}
.scale .asked {
  stroke: var(--ochre);
  stroke-width: 1.8;
  stroke-dasharray: 3 2.5;
}
.scale .notch {
  fill: var(--paper);
  stroke: var(--ember);
  stroke-width: 1.6;
}
</style>
