/** Where a value is on a scale that goes from one place to another; beyond its ends it stays at them. */
export function placeOn(value: number, minimum: number, maximum: number, from: number, to: number): number {
  if (maximum <= minimum) return from
  const share = Math.min(1, Math.max(0, (value - minimum) / (maximum - minimum)))
  return from + share * (to - from)
}

/** The value of a scale that is nearest to another, by its steps from the minimum. */
export function nearest(value: number, minimum: number, maximum: number, step: number): number {
  const stepped = step > 0 ? minimum + Math.round((value - minimum) / step) * step : value
  return Math.min(maximum, Math.max(minimum, Number(stepped.toFixed(6))))
}

const ROUND = [1, 2, 2.5, 5, 10]
const ABOUT = 10

/** The graduation of a scale: about ten round values, each fifth of them large, as are both ends. */
export function ticks(minimum: number, maximum: number): { value: number; large: boolean }[] {
  const span = maximum - minimum
  if (!(span > 0)) return []
  const raw = span / ABOUT
  const power = 10 ** Math.floor(Math.log10(raw))
  const every = ROUND.map((r) => r * power).find((s) => s >= raw * 0.999)!
  const count = Math.floor((maximum - Math.ceil(minimum / every) * every) / every + 1e-9)
  const first = Math.ceil(minimum / every)
  const all = Array.from({ length: count + 1 }, (_, i) => ({
    value: Number(((first + i) * every).toFixed(6)),
    large: (first + i) % 5 === 0,
  }))
  const ends = [minimum, maximum].filter((end) => !all.some((t) => t.value === end))
  return [
    ...all.map((t) => (t.value === minimum || t.value === maximum ? { ...t, large: true } : t)),
    ...ends.map((value) => ({ value, large: true })),
  ].sort((a, b) => a.value - b.value)
}
