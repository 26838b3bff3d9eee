<script setup lang="ts">
import { computed } from 'vue'
import type { Series } from '@/api/types'
import { bands, type Span } from '@/lib/history'
import { useHome } from '@/stores/home'

/** When a state was so, as a band over the same time as the chart above it. */
const props = defineProps<{ title: string; word: string; series: Series; span: Span; color: string; inset?: boolean }>()
const home = useHome()

const WIDTH = 1000
const marks = computed(() => {
  const { from, to } = props.span
  const x = (at: number) => ((Math.min(Math.max(at, from), to) - from) / (to - from)) * WIDTH
  return bands(props.series, Math.min(to, home.now))
    .map((b) => ({ x: x(b.from), width: Math.max(1, x(b.to) - x(b.from)), share: b.share }))
    .filter((b) => b.x < WIDTH)
})
</script>

<template>
  <div class="state" :class="{ inset }">
    <span class="small"
      >{{ title }} <span class="soft">{{ word }}</span></span
    >
    <svg
      :viewBox="`0 0 ${WIDTH} 16`"
      preserveAspectRatio="none"
      role="img"
      :aria-label="`${title}: when it was ${word}`"
    >
      <rect :width="WIDTH" height="16" class="ground" />
      <rect
        v-for="(m, i) in marks"
        :key="i"
        :x="m.x"
        :width="m.width"
        height="16"
        :style="{ fill: `var(${color})`, opacity: 0.25 + 0.75 * m.share }"
      />
    </svg>
  </div>
</template>

<style scoped>
.state {
  padding: var(--space-4) 0 var(--space-4) var(--space-60);
}
svg {
  display: block;
  width: 100%;
  height: 16px;
}
.inset {
  padding-right: var(--space-60);
}
.ground {
  fill: var(--sheet);
  stroke: var(--rule);
}
.small {
  font-size: var(--type-note);
}
</style>
