import type { Device, DeviceEvent, Rule, RuleDocument, Trigger } from '@/api/types'
import type { Doing } from './doings'
import { documentOf } from './documents'

/** Keys and dials of devices: what each can be told by, which rules are for it, and rules made from short forms. */

const PRESS = 'press'
const TURN = 'turn'
const HOLD = 'hold'
const RELEASE = 'release'
const gestureWords: Record<string, string> = {
  press: 'pressed',
  double: 'pressed twice',
  triple: 'pressed three times',
  hold: 'held',
  release: 'released',
  down: 'going down',
  up: 'going up',
}

/** The events of a device that somebody's hand gives, as they are read on its face: row by row. */
export const keysOf = (d: Device): DeviceEvent[] =>
  d.description.events
    .filter((e) => e.role === PRESS || e.role === TURN)
    .toSorted((a, b) => (a.layout && b.layout ? a.layout.row - b.layout.row || a.layout.column - b.layout.column : 0))
export const hasKeys = (d: Device) => keysOf(d).length > 0

/** The ways a dial is turned, by how its number compares with 0. */
const turns: Record<string, { comparison: 'above' | 'below'; words: string }> = {
  right: { comparison: 'above', words: 'to the right' },
  left: { comparison: 'below', words: 'to the left' },
}
/** What is turned either way: of a rule that does not tell them apart. */
const EITHER = ''

/** The gestures of a key that rules can tell apart; one without a name where there is only one. */
export function gesturesOf(d: Device, key: DeviceEvent): string[] {
  if (key.number) return [...Object.keys(turns), EITHER]
  const all = d.gestures?.[key.name]?.all ?? []
  return all.length ? all : ['']
}

/** The gestures that the hub makes of what the device sends. */
export const madeOf = (d: Device, key: DeviceEvent): string[] => d.gestures?.[key.name]?.made ?? []

/** Whether it is no gesture of its own: a part of a press, of which the hub makes gestures, or a turn either way. */
export const isPart = (d: Device, key: DeviceEvent, gesture: string) =>
  (key.number && gesture === EITHER) || ((gesture === 'down' || gesture === 'up') && madeOf(d, key).includes(PRESS))

/** What of a key is waited for before a press counts, by the gestures that mean something there: more presses, a hold. */
export function waitsFor(d: Device, key: DeviceEvent, meant: string[]) {
  const made = madeOf(d, key).filter((g) => meant.includes(g))
  return {
    more: meant.includes(PRESS) && made.some((g) => g === 'double' || g === 'triple'),
    held: meant.includes(PRESS) && made.includes(PRESS) && made.some((g) => g === HOLD || g === RELEASE),
  }
}

/** What was done to a key, in words. */
export function gestureTitle(key: DeviceEvent, gesture: string): string {
  if (key.number) return ['turned', turns[gesture]?.words].filter(Boolean).join(' ')
  return gesture ? (gestureWords[gesture] ?? gesture) : 'pressed'
}

/** Whether a rule is started by a key, whatever is done to it. */
export const startsBy = (r: Rule, device: string, key: string) =>
  (r.when ?? []).some((t) => t.device === device && t.event === key)

/** Whether a rule is started by a gesture of a key. One that names none is by each message of the key, or by its press. */
export const startsByGesture = (r: Rule, d: Device, key: DeviceEvent, gesture: string) =>
  (r.when ?? []).some((t) => {
    if (t.device !== d.id || t.event !== key.name) return false
    const way = turns[gesture]
    if (key.number) {
      const told = Object.values(turns).find((w) => t.comparison === w.comparison && t.value === 0)
      return told === way
    }
    if (t.comparison) return t.comparison === 'is' && (t.value ?? '') === gesture
    return key.options?.length ? key.options.includes(gesture) : gesture === '' || gesture === PRESS
  })

/** The rules that are started by any key of a device. */
export const rulesOf = (rules: Rule[], d: Device) => {
  const keys = keysOf(d)
  return rules.filter((r) => keys.some((k) => startsBy(r, d.id, k.name)))
}
/** How many rules there are, in words. */
export const ruleCount = (n: number) => (n === 1 ? '1 rule' : `${n || 'no'} rules`)

const LONGEST_TITLE = 120

/** What a rule of a key is called beside that key: what it does, where its name says that last. */
export const shortTitle = (r: Pick<Rule, 'title'>, device: Pick<Device, 'title'>) =>
  (r.title.startsWith(`${device.title}, `) && r.title.split(': ').slice(1).join(': ')) || r.title

/** Whether a gesture is told apart from others; a key whose messages do not differ is just pressed. */
const named = (key: DeviceEvent, gesture: string) =>
  key.role === PRESS && gesture !== '' && (gesture !== PRESS || !!key.options?.length)

/** What a trigger compares with so that it is told only of a gesture. */
function toldOf(key: DeviceEvent, gesture: string): Partial<Trigger> {
  const way = turns[gesture]
  if (key.number) return way ? { comparison: way.comparison, value: 0 } : {}
  return named(key, gesture) ? { comparison: 'is', value: gesture } : {}
}

/** The rule by which a key does something: an ordinary one, with its device as a label. */
export function ruleFor(device: Device, key: DeviceEvent, gesture: string, doing: Doing): RuleDocument {
  const how = key.number ? turns[gesture]?.words : gestureTitle(key, gesture)
  const done = [key.title.toLowerCase(), how].filter(Boolean).join(' ')
  const what = doing.steps ? `: ${doing.title}` : ''
  return {
    title: `${device.title}, ${done}${what}`.slice(0, LONGEST_TITLE),
    enabled: true,
    labels: [device.title],
    when: [
      {
        device: device.id,
        event: key.name,
        ...toldOf(key, gesture),
      },
    ],
    do: doing.steps ?? [],
  }
}

/** Whether a gesture of a key lasts until the key is released, and the key says when that is. */
export const lasts = (d: Device, key: DeviceEvent, gesture: string) =>
  gesture === HOLD && gesturesOf(d, key).includes(RELEASE)

/** The rule that ends what another does while a key is held. */
export function endFor(device: Device, key: DeviceEvent, rule: string, title: string): RuleDocument {
  return {
    ...ruleFor(device, key, RELEASE, { value: '', title: `stop “${title}”`, steps: [{ kind: 'stop', rule }] }),
  }
}

/** From where to where what keys do is carried: from one device to another, key by key, or from one key to another. */
export interface Carried {
  from: Device
  to: Device
  key?: { from: DeviceEvent; to: DeviceEvent }
}

/** Whether a trigger is one of the keys that are carried from. */
const carries = ({ from, key }: Carried, t: Trigger) =>
  t.device === from.id && !!t.event && (!key || t.event === key.from.name)

/** What of the keys has a place where it is carried to, and what finds none. */
export function carried(rules: Rule[], way: Carried): { rules: Rule[]; missing: string[] } {
  const here = new Map(keysOf(way.to).map((k) => [k.name, gesturesOf(way.to, k)]))
  const mine = (r: Rule) => (r.when ?? []).filter((t) => carries(way, t))
  const all = rulesOf(rules, way.from).filter((r) => mine(r).length)
  const fits = (r: Rule) =>
    mine(r).every((t) => {
      const gestures = here.get(way.key?.to.name ?? t.event!)
      return gestures && (typeof t.value !== 'string' || gestures.includes(t.value))
    })
  return { rules: all.filter(fits), missing: all.filter((r) => !fits(r)).map((r) => r.title) }
}

/**
 * A rule for other keys: its triggers, its label and its name point there, and rules that were copied with it too. Of a rule that is
 * carried to one key nothing else starts the copy: what else starts the rule would start both.
 */
export function copyOf(r: Rule, way: Carried, ids: Map<string, string>): RuleDocument {
  const { from, to, key } = way
  const called = (k: DeviceEvent) => `, ${k.title.toLowerCase()} `
  const swap = (text: string) => {
    const there = text.replaceAll(from.title, to.title)
    return key ? there.replace(called(key.from), called(key.to)) : there
  }
  const text = JSON.stringify(documentOf('rule', r))
  const copy = JSON.parse(
    [...ids].reduce((t, [old, now]) => t.replaceAll(JSON.stringify(old), JSON.stringify(now)), text),
  ) as RuleDocument
  return {
    ...copy,
    title: swap(r.title).slice(0, LONGEST_TITLE),
    labels: r.labels?.map((l) => l.replaceAll(from.title, to.title)),
    when: copy.when
      ?.filter((t) => !key || carries(way, t))
      .map((t) => (carries(way, t) ? { ...t, device: to.id, event: key?.to.name ?? t.event } : t)),
  }
}
