import type { CurveDay, DayPoint } from '@/api/types'

/** The minutes to which a point is dragged, and by which keys move it. */
export const MINUTES = 5
const DAY_MINUTES = 24 * 60

/** A point moved by so many minutes: by the clock to another time, by the sun to another offset. */
export function moved(point: DayPoint, minutes: number): DayPoint {
  const by = Math.round(minutes)
  const { at } = point
  if (at.anchor !== 'clock') {
    const offset = Math.min(720, Math.max(-720, (at.offsetMinutes ?? 0) + by))
    return { ...point, at: { ...at, offsetMinutes: offset || undefined } }
  }
  const [hour, minute] = (at.clock ?? '00:00').split(':').map(Number)
  const to = Math.min(DAY_MINUTES - 1, Math.max(0, hour! * 60 + minute! + by))
  return { ...point, at: { ...at, clock: clockOf(to) } }
}

/** Minutes after midnight as a clock shows them. */
export const clockOf = (minutes: number) =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`

/** A point by the clock at an hour, with what the curve says there: so it changes nothing until it is moved. */
export function pointAt(day: CurveDay, hour: number): DayPoint {
  const minutes = Math.min(DAY_MINUTES - MINUTES, Math.max(0, Math.round((hour * 60) / MINUTES) * MINUTES))
  const said = day.along.reduce((best, a) => (Math.abs(a.hour - hour) < Math.abs(best.hour - hour) ? a : best))
  return {
    at: { anchor: 'clock', clock: clockOf(minutes) },
    level: said.level === undefined ? undefined : Math.max(1, Math.round(said.level)),
    kelvin: said.kelvin === undefined ? undefined : Math.round(said.kelvin / 10) * 10,
  }
}

/** How high a curve is drawn at a place: by how bright it is, or where it says nothing of that by its white; from 0 to 1. */
export function heightOf(at: { level?: number; kelvin?: number }, byLevel: boolean): number | undefined {
  if (byLevel) return at.level === undefined ? undefined : at.level / 100
  return at.kelvin === undefined ? undefined : whiteHeight(at.kelvin)
}

// Equal steps of reciprocal temperature look about equally large; the scale goes from candle to sky.
const WARM = 1e6 / 1500
const COOL = 1e6 / 8000
const whiteHeight = (kelvin: number) => Math.min(1, Math.max(0, (WARM - 1e6 / kelvin) / (WARM - COOL)))

/** A point drawn to another height. */
export function raised(point: DayPoint, height: number, byLevel: boolean): DayPoint {
  const to = Math.min(1, Math.max(0, height))
  if (byLevel) return { ...point, level: Math.max(1, Math.round(to * 100)) }
  return { ...point, kelvin: Math.round(1e6 / (WARM - to * (WARM - COOL)) / 10) * 10 }
}
