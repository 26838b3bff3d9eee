<script setup lang="ts">
import type { Certainty } from '@/lib/certainty'
import { useScale } from './useScale'

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
  size: 'row' | 'page' | 'panel'
  disabled: boolean
  certainty: Certainty
  /** How high the drawing is. */
  height: number
}>()
const emit = defineEmits<{ set: [number] }>()
const { wide, x, marks, dragging, press, point, released, key } = useScale(
  () => props,
  () => props.aimed,
  (value) => emit('set', value),
)
</script>

<template>
  <svg
    ref="face"
    class="scale"
    :class="[size, certainty, { dragging, disabled }]"
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
    <slot :x="x" :marks="marks" />
  </svg>
</template>

<style scoped>
.scale {
  min-width: 60px;
  touch-action: pan-y;
  cursor: pointer;
  overflow: visible;
}
.disabled {
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
