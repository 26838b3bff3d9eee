<script setup lang="ts">
import { computed } from 'vue'

/** What is playing, drawn: waves that are the same for the same piece, and unlike for another. */
const props = defineProps<{ track: string }>()

const WIDTH = 320
const HEIGHT = 180
const WAVES = 5
const COLORS = ['--verdigris', '--ochre', '--slate', '--plum', '--ember']

/** A number from 0 to 1 that a text always gives (FNV-1a, 32 bits). */
function chance(text: string): number {
  let hash = 0x811c9dc5
  for (const letter of text) hash = Math.imul(hash ^ letter.codePointAt(0)!, 0x01000193) >>> 0
  return hash / 2 ** 32
}
const color = computed(() => COLORS[Math.floor(chance(props.track) * COLORS.length)])
const waves = computed(() =>
  Array.from({ length: WAVES }, (_, n) => {
    const height = 12 + 40 * chance(`${props.track} height ${n}`)
    const base = HEIGHT * ((n + 1) / (WAVES + 1))
    const at = WIDTH * (0.2 + 0.5 * chance(`${props.track} at ${n}`))
    return `M0 ${base}Q${at / 2} ${base - height} ${at} ${base}T${WIDTH} ${base}`
  }),
)
</script>

<template>
  <svg
    class="cover"
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    preserveAspectRatio="none"
    role="img"
    :aria-label="track || 'Nothing is playing'"
  >
    <rect :width="WIDTH" :height="HEIGHT" class="ground" />
    <template v-if="track">
      <path
        v-for="(w, n) in waves"
        :key="n"
        :d="w"
        :style="{ stroke: `var(${color})`, opacity: 1 - n / (WAVES + 1) }"
      />
    </template>
  </svg>
</template>

<style scoped>
.cover {
  display: block;
  width: 100%;
  height: 100%;
}
.ground {
  fill: var(--sky-day);
}
path {
  fill: none;
  stroke-width: 2.5;
  vector-effect: non-scaling-stroke;
}
</style>
