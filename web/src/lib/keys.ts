import type { Device, DeviceEvent, Rule, RuleDocument } from '@/api/types'
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

/** The events of a device that somebody's hand gives. */
export const keysOf = (d: Device): DeviceEvent[] =>
  d.description.events.filter((e) => e.role === PRESS || e.role === TURN)
export const hasKeys = (d: Device) => keysOf(d).length > 0

/** The gestures of a key that rules can tell apart; one without a name where there is only one. */
export function gesturesOf(d: Device, key: DeviceEvent): string[] {
  const all = d.gestures?.[key.name]?.all ?? []
  return all.length ? all : ['']
}

/** The gestures that the hub makes of what the device sends. */
export const madeOf = (d: Device, key: DeviceEvent): string[] => d.gestures?.[key.name]?.made ?? []

/** Whether a message is only a part of a press, of which the hub makes gestures. */
export const isPart = (d: Device, key: DeviceEvent, gesture: string) =>
  (gesture === 'down' || gesture === 'up') && madeOf(d, key).includes(PRESS)

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
  if (key.role === TURN) return 'turned'
  return gesture ? (gestureWords[gesture] ?? gesture) : 'pressed'
}

/** Whether a rule is started by a key, whatever is done to it. */
export const startsBy = (r: Rule, device: string, key: string) =>
  (r.when ?? []).some((t) => t.device === device && t.event === key)

/** Whether a rule is started by a gesture of a key. One that names none is by each message of the key, or by its press. */
export const startsByGesture = (r: Rule, d: Device, key: DeviceEvent, gesture: string) =>
  (r.when ?? []).some((t) => {
    if (t.device !== d.id || t.event !== key.name) return false
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

/** The rule by which a key does something: an ordinary one, with its device as a label. */
export function ruleFor(device: Device, key: DeviceEvent, gesture: string, doing: Doing): RuleDocument {
  const what = doing.steps ? `: ${doing.title}` : ''
  return {
    title: `${device.title}, ${key.title.toLowerCase()} ${gestureTitle(key, gesture)}${what}`.slice(0, LONGEST_TITLE),
    enabled: true,
    labels: [device.title],
    when: [
      {
        device: device.id,
        event: key.name,
        ...(named(key, gesture) ? { comparison: 'is', value: gesture } : {}),
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

/** What of one device's keys another has too, and what finds no place there. */
export function copied(rules: Rule[], from: Device, to: Device): { rules: Rule[]; missing: string[] } {
  const here = new Map(keysOf(to).map((k) => [k.name, gesturesOf(to, k)]))
  const mine = (r: Rule) => (r.when ?? []).filter((t) => t.device === from.id && t.event)
  const all = rulesOf(rules, from)
  const fits = (r: Rule) =>
    mine(r).every((t) => {
      const gestures = here.get(t.event!)
      return gestures && (typeof t.value !== 'string' || gestures.includes(t.value))
    })
  return { rules: all.filter(fits), missing: all.filter((r) => !fits(r)).map((r) => r.title) }
}

/** A rule for another device: its triggers, its label and its name point there, and rules that were copied with it too. */
export function copyOf(r: Rule, from: Device, to: Device, ids: Map<string, string>): RuleDocument {
  const swap = (text: string) => text.replaceAll(from.title, to.title)
  const text = JSON.stringify(documentOf('rule', r))
  const copy = JSON.parse(
    [...ids].reduce((t, [old, now]) => t.replaceAll(JSON.stringify(old), JSON.stringify(now)), text),
  ) as RuleDocument
  return {
    ...copy,
    title: swap(r.title).slice(0, LONGEST_TITLE),
    labels: r.labels?.map(swap),
    when: copy.when?.map((t) => (t.device === from.id ? { ...t, device: to.id } : t)),
  }
}
