<script setup lang="ts">
import { useResizeObserver } from '@vueuse/core'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import { api, ask } from '@/api/client'
import type { Point, Property } from '@/api/types'
import ErrorNote from '@/components/page/ErrorNote.vue'
import { useReading } from '@/lib/reading'
import { useHome } from '@/stores/home'
import { useLook } from '@/stores/look'

/** The last day of one property. */
const props = defineProps<{ device: string; property: Property }>()
const home = useHome()
const look = useLook()

const DAY = 86_400_000
const HEIGHT = 170
/** In px: labels of the axis beside it. */
const NARROW = 52
const MARGIN = 14
const LETTER = 7
const frame = ref<HTMLElement>()
const empty = ref(false)
let plot: uPlot | undefined
let points: Point[] = []

const { failed, again: read } = useReading(async () => {
  const to = home.now
  const series = await ask(
    api.GET('/api/history', {
      params: {
        query: {
          series: [`${props.device}~${props.property.name}`],
          from: new Date(to - DAY).toISOString(),
          to: new Date(to + 1000).toISOString(),
        },
      },
    }),
  )
  points = series[0]?.points ?? []
  draw(to)
})

function color(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim()
}

function draw(to: number) {
  plot?.destroy()
  plot = undefined
  empty.value = points.length === 0
  if (!frame.value || empty.value) return
  const from = (to - DAY) / 1000
  const x = points.map((p) => Math.max(from, new Date(p.at).getTime() / 1000))
  const y = points.map((p) => p.value)
  x.push(to / 1000)
  y.push(y[y.length - 1]!)
  const stepped = props.property.writable || props.property.type === 'boolean'
  const ink = color('--ink-soft')
  const axis = {
    stroke: ink,
    font: '11px "Spline Sans Mono Variable"',
    grid: { stroke: color('--rule'), width: 1 },
    ticks: { show: false },
  }
  const words = props.property.words
  const labels = Math.max(NARROW, MARGIN + LETTER * Math.max(0, ...(words ?? []).map((w) => w.length)))
  const range: uPlot.Range.MinMax | undefined =
    props.property.type === 'boolean' ? [-0.05, 1.1] : props.property.unit === '%' ? [0, 105] : undefined
  plot = new uPlot(
    {
      width: frame.value.clientWidth,
      height: HEIGHT,
      legend: { show: false },
      cursor: { y: false, points: { show: false } },
      tzDate: (ts) => uPlot.tzDate(new Date(ts * 1000), home.times.zone),
      scales: { x: { range: [from, to / 1000] }, y: range ? { range } : {} },
      axes: [
        { ...axis, values: (_, ticks) => ticks.map((t) => home.times.clock(t * 1000)), space: 60 },
        {
          ...axis,
          size: labels,
          splits: props.property.type === 'boolean' ? () => [0, 1] : undefined,
          values: (_, ticks) =>
            ticks.map((t) => (words && props.property.type === 'boolean' ? (words[t] ?? '') : String(t))),
        },
      ],
      series: [
        {},
        {
          stroke: color('--verdigris'),
          width: 2,
          paths: stepped ? uPlot.paths.stepped!({ align: 1 }) : undefined,
          points: { show: false },
        },
      ],
    },
    [x, y],
    frame.value,
  )
}

onMounted(() => void read())
useResizeObserver(frame, () => frame.value && plot?.setSize({ width: frame.value.clientWidth, height: HEIGHT }))
onBeforeUnmount(() => plot?.destroy())
watch(() => [props.device, props.property.name], read)
watch(
  () => look.night,
  () => requestAnimationFrame(() => draw(home.now)),
)
watch(() => home.state(props.device, props.property.name)?.changedAt, read)
</script>

<template>
  <div>
    <div ref="frame" class="frame" role="img" :aria-label="`${property.title} over the last day`" />
    <ErrorNote v-if="failed" :reason="failed" @again="read" />
    <p v-else-if="empty" class="soft">No readings within the last day.</p>
  </div>
</template>

<style scoped>
.frame {
  width: 100%;
}
p {
  font-size: var(--type-small);
}
</style>
