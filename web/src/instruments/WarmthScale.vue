<script setup lang="ts">
import { computed } from 'vue'
import { certaintyWords, type Certainty } from '@/lib/certainty'
import type { FaceSize } from '@/lib/faces'
import { nearest } from './scale'
import ScaleFace from './ScaleFace.vue'

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
    size?: FaceSize
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
const GRADUATION = { line: LINE, over: [3, 5] as [number, number], under: [3, 5] as [number, number] }
const pending = computed(() => props.certainty === 'pending' && props.asked !== undefined)
const aimed = computed(() => (pending.value ? props.asked! : props.wanted))
const to = (value: number) => emit('set', nearest(value, props.minimum, props.maximum, props.step))
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
  <span class="warmth" :class="`at-${size}`">
    <button
      type="button"
      class="plain by"
      :disabled="disabled || aimed <= minimum"
      :aria-label="`${label}: less`"
      @click="to(aimed - step)"
    >
      −
    </button>
    <ScaleFace
      v-slot="{ x }"
      :label="label"
      :aimed="aimed"
      :words="words"
      :minimum="minimum"
      :maximum="maximum"
      :step="step"
      :size="size"
      :disabled="disabled"
      :certainty="certainty"
      :height="HEIGHT"
      :graduation="GRADUATION"
      @set="emit('set', $event)"
    >
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
    </ScaleFace>
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
.at-panel .by {
  min-width: 64px;
  min-height: 64px;
}
.at-row .by {
  min-width: 28px;
  min-height: 28px;
  font-size: var(--type-text);
}
/* Its own width counts for nothing: drawn as wide as there is room, it would else ask for more each time. */
.scale {
  flex: 1 1 0;
  width: 0;
  height: 52px;
}
.scale.at-row {
  height: 44px;
}
.scale.at-panel {
  height: 72px;
}
.between {
  stroke: var(--slate);
  stroke-width: 4;
}
.between.heats {
  stroke: var(--ember);
}
.scale .measured {
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
.failed .wedge:not(.measured) {
  stroke: var(--ember);
}
</style>
