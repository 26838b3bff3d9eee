import type { Device, DeviceEvent, Property, Rule, RuleDocument, Step } from '@/api/types'
import type { Choice } from './choice'
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

/** What a short form makes: what it is called, and its steps; no steps where the editor is to be opened for them. */
export interface Doing extends Choice {
  steps?: Step[]
  /** Whether it goes on until the key is released; only for a key that says so. */
  whileHeld?: boolean
}

const FULL = 100
const STEP = 10
/** From dark to full, in seconds, while a key is held. */
const HELD_FOR = 5
/** What is gone through while a key is held: brightness, white from candle to noon in kelvin, colors by CIE x and y. */
const LEVELS = Array.from({ length: 25 }, (_, i) => (i + 1) * 4)
const WHITES = [2200, 2700, 3200, 4000, 5000, 6500]
const COLORS = [
  { x: 0.64, y: 0.33 },
  { x: 0.56, y: 0.41 },
  { x: 0.3, y: 0.6 },
  { x: 0.19, y: 0.22 },
  { x: 0.27, y: 0.12 },
]
const LEVEL_GAP = 0.2
const WHITE_GAP = 0.5
const COLOR_GAP = 1
/** How many kelvin a step warmer or cooler is. */
const KELVIN = 400

/** What lights or switches in a device, as steps toggle it. */
function toggled(d: Device): Step[] {
  const property = d.description.properties.find((p) => p.name === d.light)!
  const numeric = property.type === 'number'
  const at = { device: d.id, property: property.name }
  return [
    {
      kind: 'if',
      condition: {
        all: [{ ...at, ...(numeric ? { comparison: 'above', value: 0 } : { comparison: 'is', value: true }) }],
      },
      then: [{ kind: 'set', ...at, value: numeric ? 0 : false }],
      else: [{ kind: 'set', ...at, value: numeric ? FULL : true }],
    },
  ]
}

/** What is commonly done by a key, by short forms; `anything` is whatever else a rule can do. */
export function doings(home: {
  scenes: { id: string; title: string }[]
  devices: Device[]
  rules: Rule[]
  modes: { id: string; title: string }[]
  own: { device: string; mode: string }
  /** Whether it is done as a key is held that says when it is released. */
  held: boolean
}): Doing[] {
  const lamps = home.devices.filter((d) => d.light)
  const dimmable = lamps.filter((d) => d.description.properties.some((p) => p.name === d.light && p.type === 'number'))
  const by = (d: Device, value: number): Step[] => [{ kind: 'set', device: d.id, property: d.light!, value, by: true }]
  const toward = (d: Device, value: number): Step[] => [
    { kind: 'ramp', device: d.id, property: d.light!, value, forSeconds: HELD_FOR },
  ]
  const whileHeld = home.held ? dimmable : []
  const having = (role: string) =>
    home.devices.flatMap((d) =>
      d.description.properties.filter((p) => p.role === role && p.writable).map((p) => ({ d, p })),
    )
  const whites = having('colorTemperature')
  const colors = having('color')
  const shutters = having('position')
  const inRange = (p: Property, values: number[]) =>
    values.filter((v) => v >= (p.minimum ?? v) && v <= (p.maximum ?? v))
  const through = (
    d: Device,
    property: string,
    values: Step['values'],
    gapSeconds: number,
    toAndFro = true,
  ): Step[] => [{ kind: 'stepThrough', device: d.id, property, values, gapSeconds, toAndFro: toAndFro || undefined }]
  return [
    ...whileHeld.map((d) => ({
      value: `brighten ${d.id}`,
      title: d.title,
      group: 'Brighter while it is held',
      steps: toward(d, FULL),
      whileHeld: true,
    })),
    ...whileHeld.map((d) => ({
      value: `dim ${d.id}`,
      title: d.title,
      group: 'Darker while it is held',
      steps: toward(d, 1),
      whileHeld: true,
    })),
    ...whileHeld.map((d) => ({
      value: `fro ${d.id}`,
      title: d.title,
      group: 'Brightness to and fro while it is held',
      steps: through(d, d.light!, LEVELS, LEVEL_GAP),
      whileHeld: true,
    })),
    ...(home.held ? whites : []).map(({ d, p }) => ({
      value: `whites ${d.id}`,
      title: d.title,
      group: 'Warm and cool to and fro while it is held',
      steps: through(d, p.name, inRange(p, WHITES), WHITE_GAP),
      whileHeld: true,
    })),
    ...(home.held ? colors : []).map(({ d, p }) => ({
      value: `colors ${d.id}`,
      title: d.title,
      group: 'Through colors while it is held',
      steps: through(d, p.name, COLORS, COLOR_GAP, false),
      whileHeld: true,
    })),
    ...home.scenes.map((s) => ({
      value: `scene ${s.id}`,
      title: s.title,
      group: 'Apply a scene',
      steps: [{ kind: 'scene' as const, scene: s.id }],
    })),
    ...home.scenes.map((s) => ({
      value: `scene-off ${s.id}`,
      title: `${s.title}, off when pressed again`,
      group: 'Apply a scene',
      steps: [{ kind: 'scene' as const, scene: s.id, orOff: true }],
    })),
    ...lamps.map((d) => ({ value: `toggle ${d.id}`, title: d.title, group: 'Switch on or off', steps: toggled(d) })),
    ...dimmable.map((d) => ({ value: `up ${d.id}`, title: d.title, group: `${STEP} % brighter`, steps: by(d, STEP) })),
    ...dimmable.map((d) => ({ value: `down ${d.id}`, title: d.title, group: `${STEP} % darker`, steps: by(d, -STEP) })),
    ...whites.flatMap(({ d, p }) =>
      [KELVIN, -KELVIN].map((by) => ({
        value: `white ${by} ${d.id}`,
        title: d.title,
        group: by > 0 ? 'Cooler by a step' : 'Warmer by a step',
        steps: [{ kind: 'set' as const, device: d.id, property: p.name, value: by, by: true }],
      })),
    ),
    ...shutters.flatMap(({ d, p }) =>
      [FULL, 0].map((value) => ({
        value: `shutter ${value} ${d.id}`,
        title: d.title,
        group: value ? 'Shutter up' : 'Shutter down',
        steps: [{ kind: 'set' as const, device: d.id, property: p.name, value }],
      })),
    ),
    ...home.modes.map((m) => ({
      value: `mode ${m.id}`,
      title: m.title,
      group: 'Set the mode of the house',
      steps: [{ kind: 'set' as const, device: home.own.device, property: home.own.mode, value: m.id }],
    })),
    ...home.rules.map((r) => ({
      value: `rule ${r.id}`,
      title: r.title,
      group: 'Run a rule',
      steps: [{ kind: 'run' as const, rule: r.id }],
    })),
    { value: 'anything', title: 'anything else …', group: 'Write the rule' },
  ]
}

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
