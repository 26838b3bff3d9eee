<script setup lang="ts">
import type { FaceSize } from '@/lib/faces'
/** A window with its shutter, drawn as far down as it is. With a label it stands for itself, else beside words. */
withDefaults(
  defineProps<{
    place: number
    known?: boolean
    moving?: 'up' | 'down'
    goal?: number
    tilt?: number
    label?: string
    size?: FaceSize
  }>(),
  { known: true, moving: undefined, goal: undefined, tilt: undefined, label: undefined, size: 'page' },
)
const HEIGHT = 84
</script>

<template>
  <svg
    class="shutter"
    :class="`at-${size}`"
    viewBox="0 0 72 96"
    :role="label ? 'img' : undefined"
    :aria-label="label"
    :aria-hidden="label ? undefined : true"
  >
    <title v-if="label">{{ label }}</title>
    <rect x="5" y="6" width="62" :height="HEIGHT" class="pane" />
    <path d="M36 6V90M5 48H67" class="bars" />
    <g v-if="known">
      <rect
        x="5"
        y="6"
        width="62"
        :height="(HEIGHT * (100 - place)) / 100"
        class="slats"
        :style="tilt ? { fillOpacity: 1 - tilt / 100 } : {}"
      />
      <path
        v-for="n in 14"
        v-show="n * 6 < (HEIGHT * (100 - place)) / 100"
        :key="n"
        :d="`M5 ${6 + n * 6}H67`"
        class="slat"
      />
      <path :d="`M3 ${6 + (HEIGHT * (100 - place)) / 100}H69`" class="foot" />
    </g>
    <rect v-else x="5" y="6" width="62" :height="HEIGHT" class="unknown" />
    <path v-if="goal !== undefined" :d="`M0 ${6 + (HEIGHT * (100 - goal)) / 100}H72`" class="goal" />
    <path v-if="moving === 'up'" d="M28 56l8-9 8 9" class="arrow" />
    <path v-if="moving === 'down'" d="M28 44l8 9 8-9" class="arrow" />
    <rect x="2" y="2" width="68" height="6" class="box" />
  </svg>
</template>

<style scoped>
.shutter {
  flex: none;
}
.at-page {
  width: 72px;
  height: 96px;
}
.at-panel {
  width: 108px;
  height: 144px;
}
.at-row {
  width: 24px;
  height: 32px;
}
.pane {
  fill: var(--sky-day);
  stroke: var(--edge);
}
.bars {
  stroke: var(--rule);
  fill: none;
}
.slats {
  fill: var(--rule);
}
.slat {
  stroke: var(--edge);
  stroke-width: 0.6;
}
.foot {
  stroke: var(--ink);
  stroke-width: 2.4;
}
.unknown {
  fill: none;
  stroke: var(--edge);
  stroke-dasharray: 2 3;
}
.goal {
  stroke: var(--ochre);
  stroke-width: 1.6;
  stroke-dasharray: 4 3;
}
.arrow {
  fill: none;
  stroke: var(--verdigris);
  stroke-width: 3;
}
.box {
  fill: var(--edge);
}
</style>
