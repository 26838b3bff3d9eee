import type { Device, Light, Property, Rule, Sequence, Step } from '@/api/types'
import type { Choice } from './choice'
import { lightDoings } from './lightVerbs'

/** Short forms of what keys commonly do, as the steps of ordinary rules. */

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

/** A property of a device, as steps toggle it. */
function toggledAt(device: string, property: string, numeric: boolean): Step[] {
  const at = { device, property }
  return [
    {
      kind: 'if',
      condition: {
        all: [{ ...at, ...(numeric ? { comparison: 'above', value: 0 } : { comparison: 'is', value: true }) }],
      },
      then: [{ kind: 'set', ...at, value: numeric ? 0 : false }],
      else: [{ kind: 'set', ...at, value: true }],
    },
  ]
}

/** What lights or switches in a device, as steps toggle it. */
function toggled(d: Device): Step[] {
  const property = d.description.properties.find((p) => p.name === d.light)!
  return toggledAt(d.id, property.name, property.type === 'number')
}

const HALF = 50
/** A shutter by one key: it stops while it moves, else it goes where it is not. */
function upStopDown(d: Device, position: Property): Step[] | undefined {
  const stop = d.description.actions.find((a) => a.role === 'stop')
  if (!stop || !position.cover) return undefined
  const { up, down } = position.cover
  const at = { device: d.id, property: position.name }
  const runs = (output: string) => ({ device: d.id, property: output, comparison: 'is' as const, value: true })
  return [
    {
      kind: 'if',
      condition: { any: [runs(up), runs(down)] },
      then: [{ kind: 'action', device: d.id, action: stop.name }],
      else: [
        {
          kind: 'if',
          condition: { all: [{ ...at, comparison: 'above', value: HALF }] },
          then: [{ kind: 'set', ...at, value: 0 }],
          else: [{ kind: 'set', ...at, value: FULL }],
        },
      ],
    },
  ]
}

/** What plays: on or off, the next track, louder and softer. */
function players(d: Device): Doing[] {
  if (!d.description.properties.some((p) => p.role === 'track')) return []
  const playing = d.description.properties.find((p) => p.role === 'power' && p.writable)
  const volume = d.description.properties.find((p) => p.role === 'volume' && p.writable)
  const next = d.description.actions.find((a) => a.role === 'next')
  const made: Doing[] = []
  if (playing)
    made.push({
      value: `play ${d.id}`,
      title: d.title,
      group: 'Play or pause',
      steps: toggledAt(d.id, playing.name, false),
    })
  if (next)
    made.push({
      value: `next ${d.id}`,
      title: d.title,
      group: 'Next track',
      steps: [{ kind: 'action', device: d.id, action: next.name }],
    })
  if (volume)
    for (const by of [STEP, -STEP])
      made.push({
        value: `volume ${by} ${d.id}`,
        title: d.title,
        group: by > 0 ? 'Louder' : 'Softer',
        steps: [{ kind: 'set', device: d.id, property: volume.name, value: by, by: true }],
      })
  return made
}

/** What is commonly done by a key, by short forms; `anything` is whatever else a rule can do. */
export function doings(home: {
  scenes: { id: string; title: string; laid?: boolean }[]
  devices: Device[]
  rules: Rule[]
  modes: { id: string; title: string }[]
  lights: Light[]
  sequences: Pick<Sequence, 'id' | 'title' | 'effect'>[]
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
      title: s.laid ? `${s.title}, lifted when pressed again` : `${s.title}, off when pressed again`,
      group: 'Apply a scene',
      steps: [{ kind: 'scene' as const, scene: s.id, orOff: true }],
    })),
    ...(home.scenes.length > 1
      ? [
          {
            value: 'next-scene',
            title: 'the next of all scenes; choose which in its rule',
            group: 'Apply a scene',
            steps: [{ kind: 'scene' as const, scenes: home.scenes.map((s) => s.id) }],
          },
        ]
      : []),
    ...lightDoings(home.lights, STEP, 1),
    ...home.sequences.map((s) => ({
      value: `sequence ${s.id}`,
      title: `${s.title}, stopped when pressed again`,
      group: s.effect ? 'Start light that moves' : 'Start a sequence',
      steps: [{ kind: 'sequence' as const, sequence: s.id, orOff: true }],
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
    ...colors.map(({ d, p }) => ({
      value: `color ${d.id}`,
      title: d.title,
      group: 'A color; choose which in its rule',
      steps: [{ kind: 'set' as const, device: d.id, property: p.name, value: COLORS[0] }],
    })),
    ...colors.map(({ d, p }) => ({
      value: `palette ${d.id}`,
      title: d.title,
      group: 'The next color of a palette',
      steps: [{ kind: 'stepThrough' as const, device: d.id, property: p.name, values: COLORS, once: true }],
    })),
    ...shutters.flatMap(({ d, p }) => {
      const steps = upStopDown(d, p)
      return steps
        ? [{ value: `shutter-one ${d.id}`, title: d.title, group: 'Shutter up, stop, down by one key', steps }]
        : []
    }),
    ...home.devices.flatMap((d) => players(d)),
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
