<script setup lang="ts">
import { useResizeObserver } from '@vueuse/core'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import type { Property, Series } from '@/api/types'
import { columns, pan, type Span, zoom } from '@/lib/history'
import { useHome } from '@/stores/home'
import { useLook } from '@/stores/look'

/** Several histories of numbers on one axis of time, with their least and most where they are rolled up. */
export interface Line {
  title: string
  property: Property
  series: Series
  /** Name of the color's token. */
  color: string
}
const props = withDefaults(defineProps<{ lines: Line[]; span: Span; height?: number; label: string }>(), {
  height: 330,
})
const emit = defineEmits<{ span: [span: Span]; at: [at: number | undefined] }>()
const home = useHome()
const look = useLook()

const DAY = 86_400
const frame = ref<HTMLElement>()
let plot: uPlot | undefined

const color = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
const faint = (name: string) => `color-mix(in srgb, ${color(name)} 22%, transparent)`

function draw() {
  plot?.destroy()
  plot = undefined
  if (!frame.value || !props.lines.length) return
  const until = Math.min(props.span.to, home.now)
  const tables: uPlot.AlignedData[] = props.lines.map((l) => {
    const c = columns(l.series, until)
    return [c.x, c.y, c.least, c.most]
  })
  // A null where nothing is known must stay one when the tables are joined.
  const data = uPlot.join(
    tables,
    tables.map((t) => t.map(() => 2 as const)),
  )
  const units = [...new Set(props.lines.map((l) => l.property.unit ?? ''))]
  const scale = (l: Line) => `y${units.indexOf(l.property.unit ?? '')}`
  const axis = {
    stroke: color('--ink-soft'),
    font: '11px "Spline Sans Mono Variable"',
    grid: { stroke: color('--rule'), width: 1 },
    ticks: { show: false },
  }
  const series: uPlot.Series[] = [{}]
  const bands: uPlot.Band[] = []
  for (const l of props.lines) {
    const stepped = l.property.writable && !l.series.spanSeconds ? uPlot.paths.stepped!({ align: 1 }) : undefined
    const i = series.length
    const edge = { scale: scale(l), stroke: 'transparent', width: 0, points: { show: false }, spanGaps: false }
    series.push(
      {
        scale: scale(l),
        stroke: color(l.color),
        width: 2,
        paths: stepped,
        points: { show: false },
        spanGaps: false,
      },
      edge,
      edge,
    )
    if (l.series.spanSeconds) bands.push({ series: [i + 2, i + 1], fill: faint(l.color) })
  }
  plot = new uPlot(
    {
      width: frame.value.clientWidth,
      height: props.height,
      legend: { show: false },
      cursor: { y: false, points: { show: false }, drag: { x: true, y: false, setScale: false } },
      tzDate: (ts) => uPlot.tzDate(new Date(ts * 1000), home.times.zone),
      scales: {
        x: { range: [props.span.from / 1000, props.span.to / 1000] },
        ...Object.fromEntries(units.map((_, i) => [`y${i}`, {}])),
      },
      axes: [
        {
          ...axis,
          space: 80,
          values: (_, ticks, __, ___, step) =>
            ticks.map((t) => (step >= DAY ? home.times.day(t * 1000) : home.times.clock(t * 1000))),
        },
        ...units.slice(0, 2).map((unit, i): uPlot.Axis => ({
          ...axis,
          scale: `y${i}`,
          side: i === 0 ? 3 : 1,
          size: 58,
          grid: i === 0 ? axis.grid : { show: false },
          values: (_, ticks) => ticks.map((t) => `${Number(t.toFixed(2))} ${unit}`.trim()),
        })),
      ],
      bands,
      series,
      hooks: {
        setSelect: [
          (u) => {
            if (u.select.width < 6) return
            emit('span', {
              from: Math.round(u.posToVal(u.select.left, 'x') * 1000),
              to: Math.round(u.posToVal(u.select.left + u.select.width, 'x') * 1000),
            })
          },
        ],
        setCursor: [(u) => emit('at', u.cursor.idx == null ? undefined : (u.data[0][u.cursor.idx] ?? 0) * 1000)],
      },
    },
    data,
    frame.value,
  )
}

const STEP = 0.8
function wheel(event: WheelEvent) {
  if (!plot || !frame.value) return
  event.preventDefault()
  if (Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
    emit('span', pan(props.span, event.deltaX / frame.value.clientWidth))
    return
  }
  const around = plot.posToVal(event.clientX - plot.over.getBoundingClientRect().left, 'x') * 1000
  emit('span', zoom(props.span, event.deltaY < 0 ? STEP : 1 / STEP, around))
}
function key(event: KeyboardEvent) {
  const move: Record<string, () => Span> = {
    ArrowLeft: () => pan(props.span, -0.25),
    ArrowRight: () => pan(props.span, 0.25),
    '+': () => zoom(props.span, 0.5),
    '-': () => zoom(props.span, 2),
  }
  const to = move[event.key]
  if (!to) return
  event.preventDefault()
  emit('span', to())
}

onMounted(draw)
useResizeObserver(frame, () => frame.value && plot?.setSize({ width: frame.value.clientWidth, height: props.height }))
onBeforeUnmount(() => plot?.destroy())
watch(() => [props.lines, props.span], draw)
watch(
  () => look.night,
  () => requestAnimationFrame(draw),
)
</script>

<template>
  <div
    ref="frame"
    class="frame"
    role="img"
    tabindex="0"
    :aria-label="`${label}. Arrow keys move, plus and minus zoom.`"
    @wheel="wheel"
    @keydown="key"
  />
</template>

<style scoped>
.frame {
  width: 100%;
}
</style>
