<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import type { Proof } from '@/api/types'
import { useHome } from '@/stores/home'
import { useLook } from '@/stores/look'

/** Two sensors over the time that they hung side by side, and below it their difference. */
const props = defineProps<{ proof: Proof; suspect: string; trusted: string }>()
const home = useHome()
const look = useLook()

const upper = ref<HTMLElement>()
const lower = ref<HTMLElement>()
let plots: uPlot[] = []

const color = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()

function draw() {
  for (const p of plots) p.destroy()
  plots = []
  const { pairs } = props.proof
  const x = pairs.map((p) => new Date(p.at).getTime() / 1000)
  const axis = {
    stroke: color('--ink-soft'),
    font: '11px "Spline Sans Mono Variable"',
    grid: { stroke: color('--rule'), width: 1 },
    ticks: { show: false },
  }
  const options = (frame: HTMLElement, height: number, series: uPlot.Series[]): uPlot.Options => ({
    width: frame.clientWidth,
    height,
    legend: { show: false },
    cursor: { y: false, points: { show: false } },
    tzDate: (ts) => uPlot.tzDate(new Date(ts * 1000), home.times.zone),
    axes: [
      { ...axis, values: (_, ticks) => ticks.map((t) => home.times.clock(t * 1000)), space: 60 },
      { ...axis, size: 52 },
    ],
    series: [{}, ...series],
  })
  const line = (name: string, width = 2, dash?: number[]): uPlot.Series => ({
    stroke: color(name),
    width,
    dash,
    points: { show: false },
  })
  if (upper.value)
    plots.push(
      new uPlot(
        options(upper.value, 170, [line('--ember'), line('--verdigris')]),
        [x, pairs.map((p) => p.suspect), pairs.map((p) => p.trusted)],
        upper.value,
      ),
    )
  if (lower.value)
    plots.push(
      new uPlot(
        options(lower.value, 110, [line('--ink', 1.5), line('--ochre', 1.5, [6, 4])]),
        [x, pairs.map((p) => p.difference), pairs.map(() => props.proof.offset)],
        lower.value,
      ),
    )
}
onMounted(draw)
onBeforeUnmount(() => plots.forEach((p) => p.destroy()))
watch(() => props.proof, draw)
watch(
  () => look.night,
  () => requestAnimationFrame(draw),
)
</script>

<template>
  <div>
    <p class="key">
      <span class="suspect">{{ suspect }}</span> beside <span class="trusted">{{ trusted }}</span>
    </p>
    <div ref="upper" role="img" :aria-label="`${suspect} and ${trusted} side by side`" />
    <p class="key soft">The difference, trusted less this one; dashed its median</p>
    <div ref="lower" role="img" aria-label="Their difference" />
  </div>
</template>

<style scoped>
.key {
  font-size: var(--type-small);
  margin: var(--space-8) 0 var(--space-2);
}
.suspect {
  border-bottom: 2px solid var(--ember);
}
.trusted {
  border-bottom: 2px solid var(--verdigris);
}
</style>
