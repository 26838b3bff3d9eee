import type { Device } from '@/api/types'

/** When anything was last heard of a device, also since its page was loaded. */
export function heardAt(d: Device): string {
  return d.states.reduce((latest, s) => ((s.reportedAt ?? '') > latest ? s.reportedAt! : latest), d.care.heardAt ?? '')
}

export const needsAttention = (d: Device) => d.care.attention.length > 0

/** Devices that need attention, the most urgent first, else by name. */
export function attentionFirst(devices: Device[]): Device[] {
  const urgency = (d: Device) => d.care.attention[0]?.urgency ?? 0
  return devices
    .filter(needsAttention)
    .sort((a, b) => urgency(b) - urgency(a) || a.title.localeCompare(b.title, undefined, { numeric: true }))
}

/** A length of time by its greatest unit: 40 s, 30 min, 4 h, 12 days. */
export function span(seconds: number): string {
  const units: [number, string][] = [
    [86400, 'days'],
    [3600, 'h'],
    [60, 'min'],
  ]
  for (const [size, name] of units) if (seconds >= 2 * size) return `${Math.round(seconds / size)} ${name}`
  return `${Math.round(seconds)} s`
}

/** How often a device speaks by itself, in words. */
export function rhythmWords(d: Device): string {
  const r = d.care.rhythm
  if (!r) return 'when switched'
  if (r.kind === 'regular') return `every ${span(r.everySeconds)}`
  if (r.kind === 'irregular') return `at changes, within ${span(r.everySeconds)}`
  return 'being learned'
}

export interface Emptying {
  text: string
  /** How sure that is. */
  sure: string
}

/** When a battery will be empty, counted from now. */
export function emptying(d: Device, now: number): Emptying | undefined {
  const p = d.care.projection
  if (!p) return undefined
  const left = (at: string) => Math.max(0, (new Date(at).getTime() - now) / 1000)
  const far = 3 * 365 * 86400
  const say = (seconds: number) => (seconds > far ? 'over 3 years' : span(seconds))
  return {
    text: `in ${say(left(p.emptyAt))}`,
    sure: `between ${say(left(p.soonest))} and ${say(left(p.latest))}, from ${Math.round(p.overDays)} days`,
  }
}

/** For how long a device has been in the home. */
export function age(added: string, now: number): string {
  const years = 365 * 86400
  const seconds = Math.max(0, (now - Date.parse(added)) / 1000)
  return seconds >= 2 * years ? `${Math.floor(seconds / years)} years` : span(seconds)
}
