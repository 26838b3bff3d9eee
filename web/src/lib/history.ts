import type { Device, Series } from '@/api/types'
import { usedProperties } from './devices'

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

/** The columns of a series up to a moment, with nothing where nothing is known. */
export function columns(series: Series, until: number): Columns {
  const c: Columns = { x: [], y: [], least: [], most: [] }
  const add = (x: number, y: number | null, least = y, most = y) => {
    c.x.push(x)
    c.y.push(y)
    c.least.push(least)
    c.most.push(most)
  }
  /** The last value counts up to a moment, from which nothing is known. */
  const addGap = (at: number) => {
    const value = c.y.at(-1)
    if (value !== undefined) add(at, value)
    add(at + 0.001, null)
  }
  const end = until / 1000
  const gaps = (series.gaps ?? []).map((g) => ({ from: Date.parse(g.from) / 1000, to: Date.parse(g.to) / 1000 }))
  let last = -Infinity
  for (const p of series.points) {
    const at = Date.parse(p.at) / 1000
    const gap = gaps.find((g) => g.from >= last && g.to <= at)
    if (gap) addGap(gap.from)
    const x = at + series.spanSeconds / 2
    if (series.spanSeconds && c.x.length && x - last > GAP * series.spanSeconds) add(last + series.spanSeconds, null)
    add(x, p.value, p.least, p.most)
    last = x
  }
  // A reading that none follows counts to the end, or until its device was silent.
  const value = c.y.at(-1)
  const gap = gaps.find((g) => g.from >= last)
  if (gap) addGap(gap.from)
  else if (!series.spanSeconds && value !== undefined && last < end) add(end, value)
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
    const ends = series.spanSeconds ? from + series.spanSeconds * 1000 : next ? Date.parse(next.at) : until
    const silent = (series.gaps ?? []).map((g) => Date.parse(g.from)).find((at) => at >= from && at < ends)
    const to = silent ?? ends
    if (p.value <= 0) return
    const share = Math.min(1, p.value)
    const before = list.at(-1)
    if (before && before.to >= from && before.share === share) before.to = to
    else list.push({ from, to, share })
  })
  return list
}

/** A stretch in which something was at a value in words, as a share of what is shown, in percent. */
export interface StayMark {
  left: number
  width: number
  from: number
  to: number
  text: string
  swatch: string | undefined
}

/** The stretches of a series in words that are within what is shown. */
export function stayMarks(series: Series, { from, to }: Span): StayMark[] {
  const percent = (at: number) => ((Math.min(Math.max(at, from), to) - from) / (to - from)) * 100
  return (series.stays ?? [])
    .map((s) => {
      const begin = Date.parse(s.from)
      const end = Date.parse(s.to)
      return {
        left: percent(begin),
        width: percent(end) - percent(begin),
        from: begin,
        to: end,
        text: s.text,
        swatch: s.swatch,
      }
    })
    .filter((m) => m.width > 0)
}

/** Of which time a share is: of all that is looked at, or only of what is known of it. */
export const ofTime = (known: number | undefined, seconds: number) =>
  known !== undefined && known < seconds * ALL_OF_IT ? 'of the known time' : 'of the time'
/** Readings begin a little after what is looked at does. */
const ALL_OF_IT = 0.98

/** For which part of the time something was at each value, such as "In 62 %, Out 38 %". */
export function shareWords(series: Series, seconds: number, most = 3): string {
  const all = series.shares ?? []
  const total = all.reduce((sum, s) => sum + s.seconds, 0)
  if (!total) return '–'
  const words = all.slice(0, most).map((s) => `${s.text} ${Math.round((s.seconds / total) * 100)} %`)
  const known = ofTime(total, seconds)
  return words.join(', ') + (all.length > most ? ', …' : '') + (known === 'of the time' ? '' : ` ${known}`)
}

/** Properties that are looked at together. */
export interface LookedAt {
  title: string
  series: string[]
}

const together: { role: string; title: string }[] = [
  { role: 'temperature', title: 'Temperatures' },
  { role: 'humidity', title: 'Humidities' },
  { role: 'illuminance', title: 'Light' },
  { role: 'motion', title: 'Where somebody moved' },
  { role: 'contact', title: 'What was open' },
  { role: 'lock', title: 'Locks' },
  { role: 'electricPower', title: 'Power drawn' },
  { role: 'level', title: 'Levels' },
  { role: 'brightness', title: 'Lamps' },
  { role: 'mode', title: 'Modes of the house' },
]

/** What is likely to be looked at together, of what there is; as many of each as are shown at once. */
export function likelyTogether(devices: Device[], most: number): LookedAt[] {
  return together.flatMap(({ role, title }) => {
    const series = devices.flatMap((d) =>
      usedProperties(d)
        .filter((p) => p.role === role)
        .map((p) => `${d.id}~${p.name}`),
    )
    return series.length ? [{ title, series: series.slice(0, most) }] : []
  })
}
