<script setup lang="ts">
import { computed } from 'vue'
import type { EffectAhead } from '@/api/types'
import { duration } from '@/lib/format'

/** What light that moves is going to do: a strip for each lamp, its height how bright it is, in its color. */
const props = defineProps<{ ahead: EffectAhead; titles: (device: string) => string }>()

const HEIGHT = 34
const FULL = 100
const lamps = computed(() =>
  props.ahead.lamps.map((l) => ({
    title: props.titles(l.device),
    cells: l.levels.map((level, i) => ({ x: i, height: Math.max(1, (level / FULL) * HEIGHT), swatch: l.swatches[i]! })),
    count: l.levels.length,
    from: Math.round(Math.min(...l.levels)),
    to: Math.round(Math.max(...l.levels)),
  })),
)
const MARKS = 4
const marks = computed(() =>
  Array.from({ length: MARKS + 1 }, (_, i) => ({
    at: (i / MARKS) * FULL,
    text: i ? duration((props.ahead.seconds * i) / MARKS) : 'now',
  })),
)
</script>

<template>
  <figure class="strips" :aria-label="`The coming ${duration(ahead.seconds)}`">
    <div v-for="(l, i) in lamps" :key="i" class="lamp">
      <span class="title">{{ l.title }}</span>
      <svg
        :viewBox="`0 0 ${l.count} ${HEIGHT}`"
        preserveAspectRatio="none"
        role="img"
        :aria-label="`${l.title}, from ${l.from} to ${l.to} %`"
      >
        <rect
          v-for="c in l.cells"
          :key="c.x"
          :x="c.x"
          :y="HEIGHT - c.height"
          width="1.05"
          :height="c.height"
          :style="`fill: ${c.swatch}`"
        />
      </svg>
    </div>
    <div class="lamp">
      <span />
      <span class="marks mono soft" aria-hidden="true">
        <span v-for="m in marks" :key="m.at" :style="`left: ${m.at}%`">{{ m.text }}</span>
      </span>
    </div>
    <figcaption v-if="ahead.more" class="soft small">and {{ ahead.more }} more</figcaption>
  </figure>
</template>

<style scoped>
.strips {
  margin: 0;
}
.lamp {
  display: grid;
  grid-template-columns: minmax(80px, 140px) minmax(0, 1fr);
  gap: var(--space-10);
  align-items: center;
}
.title {
  font-size: var(--type-small);
  overflow-wrap: anywhere;
}
svg {
  display: block;
  width: 100%;
  height: 34px;
  background: var(--shade);
}
.marks {
  position: relative;
  height: 22px;
  font-size: var(--type-note);
}
.marks span {
  position: absolute;
  transform: translateX(-50%);
  white-space: nowrap;
}
.marks span:first-child {
  transform: none;
}
.marks span:last-child {
  transform: translateX(-100%);
}
.small {
  font-size: var(--type-small);
}
</style>
