<script setup lang="ts">
import { computed } from 'vue'
import { certaintyWords, type Certainty } from '@/lib/certainty'
import type { FaceSize } from '@/lib/faces'

/** A door, window, gate or flap as on a floor plan: the wall, its opening and the leaf; open shows the swing. */
const props = withDefaults(defineProps<{ label: string; open: boolean; certainty?: Certainty; size?: FaceSize }>(), {
  certainty: 'confirmed',
  size: 'row',
})
const words = computed(() =>
  [props.label, props.open ? 'open' : 'shut', certaintyWords[props.certainty]].filter(Boolean).join(', '),
)
</script>

<template>
  <svg class="plan" :class="[`at-${size}`, certainty, { open }]" viewBox="0 0 40 30" role="img" :aria-label="words">
    <title>{{ words }}</title>
    <path d="M0 25H9M31 25H40" class="wall" />
    <template v-if="open">
      <path d="M10 24V3" class="leaf" />
      <path d="M10 3A21 21 0 0 1 31 24" class="swing" />
    </template>
    <path v-else d="M9 25H31" class="leaf" />
    <path v-if="certainty === 'silent'" d="M9 20l5 -5M16 20l5 -5M23 20l5 -5" class="stale" />
  </svg>
</template>

<style scoped>
.plan {
  flex: none;
  margin-bottom: var(--space-8); /* The wall is at the foot of the drawing; what is written beside it stands on it. */
}
.at-row {
  width: 30px;
}
.at-page {
  width: 56px;
}
.at-panel {
  width: 96px;
}
path {
  fill: none;
}
.wall {
  stroke: var(--ink-soft);
  stroke-width: 4;
}
.leaf {
  stroke: var(--ink);
  stroke-width: 2.4;
}
.open .leaf,
.open .swing {
  stroke: var(--ochre);
}
.swing {
  stroke-width: 1;
  stroke-dasharray: 2 2;
}
.unknown .leaf,
.assumed .leaf {
  stroke-dasharray: 1.6 2;
}
.stale {
  stroke: var(--ink-soft);
  stroke-width: 1.4;
}
</style>
