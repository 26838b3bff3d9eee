import type { Sample } from '@/api/types'

/** What went through a link, drawn along the time: which samples are in a span, where their line runs, how many a second. */

/** The samples of one place of a link. */
export const placed = (samples: Sample[], place: Sample['place'], index = 0) =>
  samples.filter((s) => s.place === place && s.index === index)

/** Samples with those that came since; each once, by its number, and no more than are kept. */
export function joined(samples: Sample[], more: Sample[], atMost: number): Sample[] {
  const newest = samples.at(-1)?.number ?? 0
  const fresh = more.filter((s) => s.number > newest)
  if (!fresh.length) return samples
  return [...samples, ...fresh].slice(-atMost)
}

export interface Span {
  from: number
  to: number
}

/** What is to be drawn of samples in a span of time: those in it, and the last before it, from which the line comes. */
export function visible(samples: Sample[], span: Span): Sample[] {
  const times = samples.map((s) => Date.parse(s.at))
  const first = times.findIndex((t) => t >= span.from)
  if (first < 0) return samples.slice(-1)
  const last = times.findLastIndex((t) => t <= span.to)
  return samples.slice(Math.max(0, first - 1), last + 1)
}

/** The least and the greatest of values, apart from each other. */
export function extent(samples: Sample[], range?: [number, number]): [number, number] {
  const values = samples.map((s) => s.value)
  const low = Math.min(...(range ? [range[0]] : []), ...values)
  const high = Math.max(...(range ? [range[1]] : []), ...values)
  if (!Number.isFinite(low) || !Number.isFinite(high)) return [0, 1]
  return low === high ? [low - 1, high + 1] : [low, high]
}

interface Frame {
  span: Span
  extent: [number, number]
  width: number
  height: number
}
const across = (f: Frame, at: number) => ((at - f.span.from) / (f.span.to - f.span.from)) * f.width
const up = (f: Frame, value: number) => f.height - ((value - f.extent[0]) / (f.extent[1] - f.extent[0])) * f.height
const short = (n: number) => Math.round(n * 10) / 10

/** A line that stays at each value until the next, as a path. */
export function stepLine(samples: Sample[], f: Frame): string {
  const parts = samples.map((s, i) => {
    const x = short(Math.max(0, across(f, Date.parse(s.at))))
    const y = short(up(f, s.value))
    return i ? `H${x}V${y}` : `M${x},${y}`
  })
  return parts.length ? `${parts.join('')}H${f.width}` : ''
}

const TICK = 5
/** A short stroke for each value, as a path. */
export const ticks = (samples: Sample[], f: Frame): string =>
  samples
    .filter((s) => Date.parse(s.at) >= f.span.from)
    .map((s) => `M${short(across(f, Date.parse(s.at)))},${short(up(f, s.value) - TICK)}v${2 * TICK}`)
    .join('')

const RATE_OVER = 2000
/** How many samples came in a second, over the last two before a time. */
export function rate(samples: Sample[], at: number): number {
  const count = samples.filter((s) => Date.parse(s.at) > at - RATE_OVER && Date.parse(s.at) <= at).length
  return Math.round((count * 10 * 1000) / RATE_OVER) / 10
}

/** The middle delay of confirmations, in ms; nothing where there is none. */
export function delay(confirmed: Sample[]): number | undefined {
  const times = confirmed.flatMap((s) => (s.milliseconds ? [s.milliseconds] : [])).sort((a, b) => a - b)
  return times.length ? Math.round(times[Math.floor(times.length / 2)]!) : undefined
}
