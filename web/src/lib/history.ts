import type { Series } from '@/api/types'

export interface Span {
  from: number
  to: number
}

const DAY = 86_400_000
export const spans: { title: string; length: number }[] = [
  { title: '6 h', length: DAY / 4 },
  { title: 'Day', length: DAY },
  { title: 'Week', length: 7 * DAY },
  { title: 'Month', length: 30 * DAY },
  { title: 'Year', length: 365 * DAY },
  { title: '3 years', length: 3 * 365 * DAY },
]
const SHORTEST = 60_000
const LONGEST = 20 * 365 * DAY

/** Zooms by a factor (below 1 is nearer) around a moment that stays where it is. */
export function zoom(span: Span, factor: number, around = (span.from + span.to) / 2): Span {
  const length = span.to - span.from
  const wanted = Math.min(LONGEST, Math.max(SHORTEST, length * factor))
  const from = around - ((around - span.from) / length) * wanted
  return { from: Math.round(from), to: Math.round(from + wanted) }
}

/** Moves by a share of its length; positive is towards the present. */
export function pan(span: Span, share: number): Span {
  const by = Math.round((span.to - span.from) * share)
  return { from: span.from + by, to: span.to + by }
}

/** A series as the columns of a chart, in seconds: values with their least and most. */
export interface Columns {
  x: number[]
  y: (number | null)[]
  least: (number | null)[]
  most: (number | null)[]
}

/** After how many of its points' lengths without a point nothing is drawn. */
const GAP = 3
/** For how long a reading counts when none follows, as the hub rolls it up. */
const HELD = 6 * 3600

/** The columns of a series up to a moment, with nothing where nothing is known. */
export function columns(series: Series, until: number): Columns {
  const c: Columns = { x: [], y: [], least: [], most: [] }
  const add = (x: number, y: number | null, least = y, most = y) => {
    c.x.push(x)
    c.y.push(y)
    c.least.push(least)
    c.most.push(most)
  }
  const end = until / 1000
  let last = -Infinity
  for (const p of series.points) {
    const at = Date.parse(p.at) / 1000
    const x = at + series.spanSeconds / 2
    if (series.spanSeconds && c.x.length && x - last > GAP * series.spanSeconds) add(last + series.spanSeconds, null)
    add(x, p.value, p.least, p.most)
    last = x
  }
  // A reading that none follows counts for a while.
  const value = c.y.at(-1)
  if (!series.spanSeconds && value !== undefined && last < end) add(Math.min(end, last + HELD), value)
  return c
}

/** A stretch of time in which a state was so. */
export interface Band {
  from: number
  to: number
  /** How much of the time it was so, from 0 to 1. */
  share: number
}

/** When a state that is yes or no was yes. */
export function bands(series: Series, until: number): Band[] {
  const list: Band[] = []
  series.points.forEach((p, i) => {
    const from = Date.parse(p.at)
    const next = series.points[i + 1]
    const to = series.spanSeconds ? from + series.spanSeconds * 1000 : next ? Date.parse(next.at) : until
    if (p.value <= 0) return
    const share = Math.min(1, p.value)
    const before = list.at(-1)
    if (before && before.to >= from && before.share === share) before.to = to
    else list.push({ from, to, share })
  })
  return list
}

export interface Summary {
  least: number
  mean: number
  most: number
}

/** Least, mean over time and most of what is shown. */
export function summary(series: Series, span: Span): Summary | undefined {
  let [area, time, least, most] = [0, 0, Infinity, -Infinity]
  series.points.forEach((p, i) => {
    const from = Math.max(span.from, Date.parse(p.at))
    const next = series.points[i + 1]
    const end = series.spanSeconds
      ? Date.parse(p.at) + series.spanSeconds * 1000
      : next
        ? Date.parse(next.at)
        : Math.min(span.to, Date.parse(p.at) + HELD * 1000)
    const length = Math.min(span.to, end) - from
    if (length <= 0) return
    area += p.value * length
    time += length
    least = Math.min(least, p.least)
    most = Math.max(most, p.most)
  })
  return time ? { least, mean: area / time, most } : undefined
}
