<script setup lang="ts">
import { computed } from 'vue'
import { certaintyWords, type Certainty } from '@/lib/certainty'
import type { FaceSize } from '@/lib/faces'

/** A lock: two plates and a bolt, shot, drawn, or stuck between where it was asked for and did not get there. */
const props = withDefaults(
  defineProps<{
    label: string
    locked: boolean
    certainty?: Certainty
    size?: FaceSize
  }>(),
  { certainty: 'confirmed', size: 'row' },
)
const words = computed(() =>
  [props.label, props.locked ? 'locked' : 'not locked', certaintyWords[props.certainty]].filter(Boolean).join(', '),
)
/** How far the bolt reaches: into the other plate, half-way, or not at all. */
const reach = computed(() => (props.certainty === 'failed' ? 28 : props.locked ? 36 : 21))
</script>

<template>
  <svg
    class="lock"
    :class="[`at-${size}`, certainty, { locked: locked && certainty !== 'failed' }]"
    viewBox="0 0 44 22"
    role="img"
    :aria-label="words"
  >
    <title>{{ words }}</title>
    <path d="M1 3H22V19H1z" class="plate" />
    <path d="M31 1V6H40V16H31V21" class="plate" />
    <path :d="`M5 11H${reach}`" class="bolt" />
    <path v-if="certainty === 'silent'" d="M3 17l4 -4M9 17l4 -4M15 17l4 -4" class="stale" />
  </svg>
</template>

<style scoped>
.lock {
  flex: none;
}
.at-row {
  width: 32px;
}
.at-page {
  width: 60px;
}
.at-panel {
  width: 110px;
}
path {
  fill: none;
}
.plate {
  stroke: var(--ink-soft);
  stroke-width: 1.5;
}
.bolt {
  stroke: var(--ink);
  stroke-width: 4.5;
}
.locked .bolt {
  stroke: var(--verdigris);
}
.pending .bolt {
  stroke: var(--ochre);
  stroke-dasharray: 4 2;
}
.failed .bolt {
  stroke: var(--ember);
}
.assumed .bolt,
.unknown .bolt {
  stroke-dasharray: 2 2;
}
.stale {
  stroke: var(--ink-soft);
  stroke-width: 1.2;
}
</style>
