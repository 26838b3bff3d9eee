import type { Condition, Daily, Rule } from '@/api/types'
import { MODE, OWN } from './own'

/** When a key does something: all day, in a mode of the house, between two times of day, or as its rule says otherwise. */
export type Part =
  { kind: 'always' } | { kind: 'mode'; mode: string } | { kind: 'hours'; from: Daily; to: Daily } | { kind: 'other' }

/** The part of the day that a rule's gate keeps it to. */
export function partOf(gate: Condition | undefined): Part {
  if (!gate) return { kind: 'always' }
  const only = gate.all?.length === 1 && !gate.any && !gate.none ? gate.all[0]! : gate
  if (only.all || only.any || only.none || only.forAtLeastSeconds) return { kind: 'other' }
  if (only.between) return { kind: 'hours', ...only.between }
  const ofMode = only.device === OWN && only.property === MODE && only.comparison === 'is'
  return ofMode && typeof only.value === 'string' ? { kind: 'mode', mode: only.value } : { kind: 'other' }
}

/** The gate that keeps a rule to a part of the day. */
export function gateOf(part: Part): Condition | undefined {
  if (part.kind === 'mode') return { device: OWN, property: MODE, comparison: 'is', value: part.mode }
  if (part.kind === 'hours') return { between: { from: part.from, to: part.to } }
  return undefined
}

/** Whether the hub says that it is that part of the day now. */
export const isNow = (r: Rule) => !r.gate || !!r.state.conditions.find((c) => c.path === 'gate')?.truth

const DAY = 24 * 60

/** The sun of a day, in minutes since midnight; undefined where it does not rise or set. */
export interface Sun {
  rise?: number
  set?: number
}

/** When a time of day is, in minutes since midnight; undefined where the sun it goes by does not come. */
export function minuteOf(at: Daily, sun: Sun): number | undefined {
  if (at.anchor === 'clock') {
    const [hour, minute] = (at.clock ?? '').split(':').map(Number)
    return hour === undefined || minute === undefined || isNaN(hour + minute) ? undefined : hour * 60 + minute
  }
  const base = at.anchor === 'sunrise' ? sun.rise : sun.set
  return base === undefined ? undefined : (((base + (at.offsetMinutes ?? 0)) % DAY) + DAY) % DAY
}

/** The stretches of a day that a part takes, as shares of it; one that crosses midnight is two. */
export function stretchesOf(part: Part, sun: Sun): { from: number; to: number }[] {
  if (part.kind !== 'hours') return []
  const from = minuteOf(part.from, sun)
  const to = minuteOf(part.to, sun)
  if (from === undefined || to === undefined) return []
  const share = (a: number, b: number) => ({ from: a / DAY, to: b / DAY })
  return from < to ? [share(from, to)] : [share(0, to), share(from, DAY)].filter((s) => s.to > s.from)
}
