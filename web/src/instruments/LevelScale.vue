<script setup lang="ts">
import { computed } from 'vue'
import { certaintyWords, type Certainty } from '@/lib/certainty'
import type { FaceSize } from '@/lib/faces'
import ScaleFace from './ScaleFace.vue'

/**
 * A graduated scale: a thick line to the value with a wedge at it, and a dashed wedge where it was asked to go. It is dragged
 * anywhere, and moved by the arrow keys.
 */
const props = withDefaults(
  defineProps<{
    label: string
    value: number
    /** What it was asked for, while it is not there yet. */
    asked?: number
    minimum: number
    maximum: number
    step?: number
    unit?: string
    /** The light's own color; without one the line is drawn in the color of what is on. */
    color?: string
    certainty?: Certainty
    size?: FaceSize
    disabled?: boolean
  }>(),
  { asked: undefined, step: 1, unit: '', color: undefined, certainty: 'confirmed', size: 'page', disabled: false },
)
const emit = defineEmits<{ set: [number] }>()

const LINE = 30
const HEIGHT = 40
const GRADUATION = { line: LINE, over: [7, 12] as [number, number], under: [0, 0] as [number, number] }

const pending = computed(() => props.certainty === 'pending' && props.asked !== undefined)
/** What is set further by keys: what was asked for last. */
const aimed = computed(() => (pending.value ? props.asked! : props.value))
const words = computed(() =>
  [`${Math.round(aimed.value * 10) / 10}${props.unit ? ` ${props.unit}` : ''}`, certaintyWords[props.certainty]]
    .filter(Boolean)
    .join(', '),
)
</script>

<template>
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
    <path v-if="value > minimum" :d="`M${x(minimum)} ${LINE}H${x(value).toFixed(1)}`" class="line edge" />
    <path
      v-if="value > minimum"
      :d="`M${x(minimum)} ${LINE}H${x(value).toFixed(1)}`"
      class="line"
      :style="color && `stroke: ${color}`"
    />
    <path
      :d="`M${x(value).toFixed(1)} ${LINE - 3}l-8 -15h16z`"
      class="wedge"
      :class="{ off: value <= minimum }"
      :style="color && value > minimum ? `fill: ${color}` : undefined"
    />
    <path v-if="pending" :d="`M${x(asked!).toFixed(1)} ${LINE - 3}l-8 -15h16z`" class="asked" />
    <path v-if="certainty === 'failed'" :d="`M${x(value).toFixed(1)} ${LINE - 18}l-5 8h10z`" class="notch" />
  </ScaleFace>
</template>

<style scoped>
.scale {
  display: block;
  width: 100%;
}
.at-row {
  height: 40px;
}
.at-page {
  height: 44px;
}
.at-panel {
  height: 64px;
}
.line {
  stroke: var(--verdigris);
  stroke-width: 5;
}
.edge {
  stroke: var(--edge);
  stroke-width: 7;
}
.scale .wedge.off {
  fill: var(--paper);
  stroke: var(--ink-soft);
}
.assumed .wedge,
.unknown .wedge {
  stroke-dasharray: 1.5 2;
}
.silent .line {
  stroke-dasharray: 3 3;
}
.failed .wedge {
  stroke: var(--ember);
}
</style>
