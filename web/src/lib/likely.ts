import type { ComputedRef, InjectionKey } from 'vue'
import type { Device, RuleDocument } from '@/api/types'
import type { Choice } from './choice'
import { split } from './sentences'

/** The devices that the rule around speaks of, for what is chosen within it. */
export const spokenOf: InjectionKey<ComputedRef<Set<string>>> = Symbol('spoken of')

/** The heading of what the rule speaks of already. */
const HERE = 'In this rule'

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

/** Puts what is likely to be chosen first: the devices that a rule speaks of already, then those of the same rooms. */
export function likelyFirst(choices: Choice[], spoken: Set<string>, devices: Device[]): Choice[] {
  if (!spoken.size) return choices
  const rooms = new Map(devices.map((d) => [d.id, d.room]))
  const near = new Set([...spoken].flatMap((id) => rooms.get(id) ?? []))
  const of = (c: Choice) => split(c.value)[0]
  const here = choices.filter((c) => spoken.has(of(c)))
  const others = choices.filter((c) => !spoken.has(of(c)))
  const isNear = (c: Choice) => near.has(rooms.get(of(c)) ?? '')
  return [
    ...here.map((c) => ({ ...c, group: HERE, note: c.note ?? c.group })),
    ...others.filter(isNear),
    ...others.filter((c) => !isNear(c)),
  ]
}
