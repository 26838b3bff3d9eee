import { computed, type ComputedRef, inject, type InjectionKey, provide } from 'vue'
import type { Device, RuleDocument } from '@/api/types'
import type { Choice } from './choice'
import { split } from './sentences'

/** The devices that the rule around speaks of, for what is chosen within it. */
const spokenOf: InjectionKey<ComputedRef<Set<string>>> = Symbol('spoken of')

/** The heading of what the rule speaks of already. */
export const HERE = 'In this rule'

/** Ids of the devices that a rule speaks of, in its conditions, its triggers and its steps. */
export function devicesOf(rule: RuleDocument): Set<string> {
  const found = new Set<string>()
  const look = (part: unknown) => {
    if (!part || typeof part !== 'object') return
    for (const [name, value] of Object.entries(part)) {
      if (name === 'device' && typeof value === 'string') found.add(value)
      else look(value)
    }
  }
  look(rule)
  return found
}

/**
 * Puts what is likely to be chosen first: properties of the devices that a rule speaks of already, what is no property, then
 * properties of the same rooms, and the others.
 */
export function likelyFirst(other: Choice[], properties: Choice[], spoken: Set<string>, devices: Device[]): Choice[] {
  if (!spoken.size) return [...other, ...properties]
  const rooms = new Map(devices.map((d) => [d.id, d.room]))
  const near = new Set([...spoken].flatMap((id) => rooms.get(id) ?? []))
  const here: Choice[] = []
  const beside: Choice[] = []
  const rest: Choice[] = []
  for (const c of properties) {
    const [device] = split(c.value)
    if (spoken.has(device)) here.push({ ...c, group: HERE, note: c.note ?? c.group })
    else if (near.has(rooms.get(device) ?? '')) beside.push(c)
    else rest.push(c)
  }
  return [...here, ...other, ...beside, ...rest]
}

/** The set before where it has the same in it, so that what depends on it stays; else the new one. */
export const unlessSame = (before: Set<string> | undefined, now: Set<string>): Set<string> =>
  before?.size === now.size && [...now].every((id) => before.has(id)) ? before : now

/** Says which devices a rule speaks of to all that is chosen within it. */
export function speakOf(rule: () => RuleDocument): void {
  // The same set as long as it is of the same devices: the lists of all lines depend on it, and a rule changes with every letter.
  provide(
    spokenOf,
    computed<Set<string>>((before) => unlessSame(before, devicesOf(rule()))),
  )
}

const NOTHING: Set<string> = new Set()

/** The devices that the rule around speaks of; none where there is no rule around. */
export function useSpoken(): () => Set<string> {
  const spoken = inject(spokenOf, undefined)
  return () => spoken?.value ?? NOTHING
}
