<script setup lang="ts">
import { computed } from 'vue'
import { certaintyWords, type Certainty } from '@/lib/certainty'
import { useScale } from './useScale'

/**
 * Warmth with a target: a graduated scale with a wedge above it where it is measured, and one below it where it is wanted, which
 * is dragged, moved by the arrow keys, or by − and +.
 */
const props = withDefaults(
  defineProps<{
    label: string
    /** Where it is measured; absent where nothing measures it. */
    measured?: number
    /** What is wanted, and what was asked for while that is not so yet. */
    wanted: number
    asked?: number
    minimum: number
    maximum: number
    step?: number
    unit?: string
    certainty?: Certainty
    size?: 'row' | 'page' | 'panel'
    disabled?: boolean
  }>(),
  {
    measured: undefined,
    asked: undefined,
    step: 0.5,
    unit: '°C',
    certainty: 'confirmed',
    size: 'page',
    disabled: false,
  },
)
const emit = defineEmits<{ set: [number] }>()

const LINE = 24
const HEIGHT = 48
const pending = computed(() => props.certainty === 'pending' && props.asked !== undefined)
const aimed = computed(() => (pending.value ? props.asked! : props.wanted))
const { wide, x, marks, to, dragging, press, point, released, key } = useScale(
  () => props,
  () => aimed.value,
  (value) => emit('set', value),
)
const say = (value: number) => `${value.toFixed(1)} ${props.unit}`
const words = computed(() =>
  [
    `${say(aimed.value)} wanted`,
    certaintyWords[props.certainty],
    props.measured === undefined ? '' : `${say(props.measured)} measured`,
  ]
    .filter(Boolean)
    .join(', '),
)
</script>

<template>
  <span class="warmth" :class="size">
    <button
      type="button"
      class="plain by"
      :disabled="disabled || aimed <= minimum"
      :aria-label="`${label}: less`"
      @click="to(aimed - step)"
    >
      −
    </button>
    <svg
      ref="face"
      class="scale"
      :class="[size, certainty, { dragging, disabled }]"
      :viewBox="`0 0 ${wide} ${HEIGHT}`"
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
      <path
        v-for="t in marks"
        :key="t.value"
        :d="`M${x(t.value).toFixed(1)} ${t.large ? LINE - 5 : LINE - 3}V${t.large ? LINE + 5 : LINE + 3}`"
        class="tick"
      />
      <path :d="`M${x(minimum)} ${LINE}H${x(maximum)}`" class="tick" />
      <path
        v-if="measured !== undefined"
        :d="`M${x(measured).toFixed(1)} ${LINE}H${x(wanted).toFixed(1)}`"
        class="between"
        :class="{ heats: wanted > measured }"
      />
      <path
        v-if="measured !== undefined"
        :d="`M${x(measured).toFixed(1)} ${LINE - 3}l-7 -13h14z`"
        class="wedge measured"
      />
      <path :d="`M${x(wanted).toFixed(1)} ${LINE + 3}l-7 13h14z`" class="wedge" />
      <path v-if="pending" :d="`M${x(asked!).toFixed(1)} ${LINE + 3}l-7 13h14z`" class="asked" />
      <path v-if="certainty === 'failed'" :d="`M${x(wanted).toFixed(1)} ${LINE + 16}l-5 -8h10z`" class="notch" />
    </svg>
    <button
      type="button"
      class="plain by"
      :disabled="disabled || aimed >= maximum"
      :aria-label="`${label}: more`"
      @click="to(aimed + step)"
    >
      +
    </button>
  </span>
</template>

<style scoped>
.warmth {
  display: flex;
  align-items: center;
  gap: var(--space-4);
  flex: 1;
  min-width: 0;
}
.by {
  min-width: var(--touch);
  min-height: var(--touch);
  font-size: var(--type-title);
  text-align: center;
  border: 1px solid var(--edge);
  border-radius: var(--radius);
}
.by:disabled {
  color: var(--ink-soft);
  border-style: dotted;
}
.row .by {
  min-width: 28px;
  min-height: 28px;
  font-size: var(--type-text);
}
/* Its own width counts for nothing: drawn as wide as there is room, it would else ask for more each time. */
.scale {
  flex: 1 1 0;
  width: 0;
  min-width: 60px;
  height: 52px;
  touch-action: pan-y;
  cursor: pointer;
  overflow: visible;
}
.disabled {
  cursor: default;
}
.scale.row {
  height: 44px;
}
.scale.panel {
  height: 72px;
}
path {
  fill: none;
}
.tick {
  stroke: var(--ink-soft);
  stroke-width: 1.1;
}
.between {
  stroke: var(--slate);
  stroke-width: 4;
}
.between.heats {
  stroke: var(--ember);
}
.wedge {
  fill: var(--verdigris);
  stroke: var(--ink);
  stroke-width: 1.4;
  stroke-linejoin: round;
}
.measured {
  fill: var(--paper);
}
.assumed .wedge:not(.measured),
.unknown .wedge {
  stroke-dasharray: 1.5 2;
}
.silent .wedge,
.silent .between {
  stroke-dasharray: 3 3;
}
.asked {
  stroke: var(--ochre);
  stroke-width: 1.8;
  stroke-dasharray: 3 2.5;
}
.notch {
  fill: var(--paper);
  stroke: var(--ember);
  stroke-width: 1.6;
}
.failed .wedge:not(.measured) {
  stroke: var(--ember);
}
</style>
