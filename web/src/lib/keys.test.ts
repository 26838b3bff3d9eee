import { describe, expect, it } from 'vitest'
import type { Action, Device, DeviceEvent, Property, Rule } from '@/api/types'
import {
  carried,
  copyOf,
  endFor,
  gesturesOf,
  gestureTitle,
  isPart,
  keysOf,
  lasts,
  ruleFor,
  shortTitle,
  startsBy,
  startsByGesture,
  waitsFor,
} from './keys'
import { doings } from './doings'

const key = {
  name: 'button1',
  title: 'Button 1',
  role: 'press',
  number: false,
  options: ['press', 'hold'],
} as DeviceEvent
const plain = { name: 'press', title: 'Press', role: 'press', number: false } as DeviceEvent
const turn = { name: 'turn', title: 'Turn', role: 'turn', number: true } as DeviceEvent
const restarted = { name: 'restarted', title: 'Restarted', role: 'restart', number: false } as DeviceEvent
const device = (id: string, title: string, light?: string, type = 'number') =>
  ({
    id,
    title,
    light,
    gestures: {
      button1: { all: ['press', 'hold'] },
      press: { all: ['press', 'double', 'triple'], made: ['double', 'triple'] },
    },
    description: {
      properties: light ? [{ name: light, type }] : [],
      events: [key, plain, turn, restarted],
      actions: [],
    },
  }) as unknown as Device
const plate = device('plate', 'Galley plate')
const rule = (when: Rule['when']) => ({ id: 'r', title: 'R', when }) as Rule

describe('keys', () => {
  it('are what a hand gives', () => {
    expect(keysOf(plate).map((k) => k.name)).toEqual(['button1', 'press', 'turn'])
    expect(gesturesOf(plate, key)).toEqual(['press', 'hold'])
    expect(gesturesOf(plate, plain)).toEqual(['press', 'double', 'triple'])
    expect(gesturesOf(plate, turn)).toEqual(['right', 'left', ''])
    const turned = (comparison?: 'above' | 'below', value?: number) =>
      rule([{ device: 'plate', event: 'turn', comparison, value }])
    expect(['right', 'left', ''].map((g) => startsByGesture(turned('above', 0), plate, turn, g))).toEqual([
      true,
      false,
      false,
    ])
    expect(startsByGesture(turned('below', 0), plate, turn, 'left')).toBe(true)
    expect(startsByGesture(turned('above', 5), plate, turn, '')).toBe(true)
    expect(startsByGesture(turned(), plate, turn, '')).toBe(true)
    expect(isPart(plate, turn, '')).toBe(true)
    expect([
      gestureTitle(key, 'hold'),
      gestureTitle(plain, ''),
      gestureTitle(turn, ''),
      gestureTitle(key, 'ON'),
    ]).toEqual(['held', 'pressed', 'turned', 'ON'])
  })

  it('start the rules that listen to them, whatever the gesture where none is said', () => {
    const held = rule([{ device: 'plate', event: 'button1', comparison: 'is', value: 'hold' }])
    expect(startsBy(held, 'plate', 'button1')).toBe(true)
    expect(startsByGesture(held, plate, key, 'hold')).toBe(true)
    expect(startsByGesture(held, plate, key, 'press')).toBe(false)
    expect(startsBy(held, 'other', 'button1')).toBe(false)
    expect(startsByGesture(rule([{ device: 'plate', event: 'button1' }]), plate, key, 'press')).toBe(true)
    const bare = rule([{ device: 'plate', event: 'press' }])
    expect(startsByGesture(bare, plate, plain, 'press')).toBe(true)
    expect(startsByGesture(bare, plate, plain, 'double')).toBe(false)
    expect(startsBy(rule(undefined), 'plate', 'button1')).toBe(false)
  })

  it('wait where another press may follow, and only where that means something', () => {
    expect(waitsFor(plate, plain, ['press'])).toEqual({ more: false, held: false })
    expect(waitsFor(plate, plain, ['press', 'double'])).toEqual({ more: true, held: false })
    expect(waitsFor(plate, plain, ['double'])).toEqual({ more: false, held: false })
    expect(waitsFor(plate, key, ['press', 'hold'])).toEqual({ more: false, held: false })
    const raw = { ...plate, gestures: { button1: { all: [], made: ['press', 'double', 'hold'] } } } as Device
    expect(waitsFor(raw, key, ['press', 'hold'])).toEqual({ more: false, held: true })
  })

  const all = doings({
    scenes: [{ id: 's', title: 'Supper' }],
    devices: [device('l', 'Lamp', 'brightness'), device('p', 'Plug lamp', 'power', 'boolean'), plate],
    rules: [],
    modes: [{ id: 'out', title: 'Out' }],
    lights: [],
    sequences: [],
    own: { device: 'own', mode: 'mode' },
    held: true,
  })
  const doing = (value: string) => all.find((d) => d.value === value)!

  it('do what is common by short forms, for what can do it', () => {
    expect(all.map((d) => d.value)).toEqual([
      'brighten l',
      'dim l',
      'fro l',
      'scene s',
      'scene-off s',
      'toggle l',
      'toggle p',
      'up l',
      'down l',
      'mode out',
      'anything',
    ])
    expect(doing('down l').steps).toEqual([{ kind: 'set', device: 'l', property: 'brightness', value: -10, by: true }])
    expect(doing('toggle p').steps![0]).toMatchObject({
      condition: { all: [{ comparison: 'is', value: true }] },
      else: [{ value: true }],
    })
  })

  it('make ordinary rules with the device as their label', () => {
    expect(ruleFor(plate, key, 'hold', doing('scene s'))).toEqual({
      title: 'Galley plate, button 1 held: Supper',
      enabled: true,
      labels: ['Galley plate'],
      when: [{ device: 'plate', event: 'button1', comparison: 'is', value: 'hold' }],
      do: [{ kind: 'scene', scene: 's' }],
    })
    expect(ruleFor(plate, turn, 'right', doing('anything'))).toMatchObject({
      title: 'Galley plate, turn to the right',
      when: [{ device: 'plate', event: 'turn', comparison: 'above', value: 0 }],
      do: [],
    })
    expect(ruleFor(device('x', 'x'.repeat(200)), key, 'hold', doing('scene s')).title).toHaveLength(120)
  })

  it('step through what a lamp or a shutter has', () => {
    const tint = device('t', 'Tint', 'brightness')
    tint.description.properties.push(
      ...([
        { name: 'white', role: 'colorTemperature', writable: true, type: 'number', minimum: 2500, maximum: 5500 },
        { name: 'color', role: 'color', writable: true, type: 'color' },
        { name: 'position', role: 'position', writable: true, type: 'number' },
      ] as Property[]),
    )
    const found = doings({
      held: true,
      scenes: [],
      devices: [tint],
      rules: [],
      modes: [],
      lights: [],
      sequences: [],
      own: { device: 'o', mode: 'm' },
    })
    const of = (value: string) => found.find((d) => d.value === value)
    expect(of('whites t')?.steps?.[0]).toMatchObject({
      kind: 'stepThrough',
      values: [2700, 3200, 4000, 5000],
      toAndFro: true,
    })
    expect(of('colors t')).toMatchObject({ whileHeld: true, steps: [{ property: 'color', gapSeconds: 1 }] })
    expect(of('colors t')?.steps?.[0]?.values).toHaveLength(5)
    expect(of('white -400 t')?.steps?.[0]).toMatchObject({ property: 'white', value: -400, by: true })
    expect(of('shutter 100 t')?.steps?.[0]).toMatchObject({ property: 'position', value: 100 })
    tint.description.actions.push(
      ...([
        { name: 'halt', role: 'stop' },
        { name: 'skip', role: 'next' },
      ] as Action[]),
    )
    tint.description.properties.at(-1)!.cover = { up: 'o1', down: 'o2' }
    tint.description.properties.push(
      ...([
        { name: 'track', role: 'track', type: 'text' },
        { name: 'playing', role: 'power', writable: true, type: 'boolean' },
        { name: 'volume', role: 'volume', writable: true, type: 'number' },
      ] as Property[]),
    )
    const more = doings({
      held: false,
      scenes: [],
      devices: [tint],
      rules: [],
      modes: [],
      lights: [],
      sequences: [],
      own: { device: 'o', mode: 'm' },
    })
    const made = (value: string) => more.find((d) => d.value === value)?.steps?.[0]
    expect(made('shutter-one t')).toMatchObject({ kind: 'if', then: [{ action: 'halt' }], else: [{ kind: 'if' }] })
    expect(made('play t')).toMatchObject({ kind: 'if', then: [{ value: false }] })
    expect(made('next t')).toMatchObject({ kind: 'action', action: 'skip' })
    expect(made('volume 10 t')).toMatchObject({ property: 'volume', value: 10, by: true })
    const pressed = doings({
      held: false,
      scenes: [],
      devices: [tint],
      rules: [],
      modes: [],
      lights: [],
      sequences: [],
      own: { device: 'o', mode: 'm' },
    })
    expect(pressed.some((d) => d.whileHeld)).toBe(false)
  })

  it('go on while they are held, where they say when that ends', () => {
    const both = { ...key, options: ['press', 'hold', 'release'] }
    const held = { ...plate, gestures: { button1: { all: ['press', 'hold', 'release'] } } } as Device
    expect([lasts(held, both, 'hold'), lasts(held, both, 'press'), lasts(plate, key, 'hold')]).toEqual([
      true,
      false,
      false,
    ])
    expect(doing('brighten l')).toMatchObject({ whileHeld: true, steps: [{ kind: 'ramp', value: 100, forSeconds: 5 }] })
    expect(endFor(plate, both, 'r1', 'Dim')).toMatchObject({
      title: 'Galley plate, button 1 released: stop “Dim”',
      when: [{ event: 'button1', comparison: 'is', value: 'release' }],
      do: [{ kind: 'stop', rule: 'r1' }],
    })
  })

  it('are called by what they do beside their key', () => {
    expect(shortTitle({ title: 'Galley plate, button 1 held: Supper: late' }, plate)).toBe('Supper: late')
    expect(shortTitle({ title: 'Supper time' }, plate)).toBe('Supper time')
    expect(shortTitle({ title: 'Galley plate, button 1 held' }, plate)).toBe('Galley plate, button 1 held')
  })

  it('are copied to another device, with what has no place there', () => {
    const small = device('small', 'Hall plate')
    small.description.events = [key]
    const one = {
      ...rule([{ device: 'plate', event: 'button1' }]),
      title: 'Galley plate: on',
      labels: ['Galley plate'],
      do: [],
    }
    const other = { ...rule([{ device: 'plate', event: 'turn' }]), title: 'Turned' }
    const strange = rule([{ device: 'x', event: 'button1' }])
    const { rules, missing } = carried([one, other, strange] as Rule[], { from: plate, to: small })
    expect(rules).toEqual([one])
    expect(missing).toEqual(['Turned'])
    const twice = rule([{ device: 'plate', event: 'button1', comparison: 'is', value: 'double' }])
    expect(carried([twice], { from: plate, to: small }).missing, 'a gesture that its keys do not give').toEqual(['R'])
    const stops = { ...one, do: [{ kind: 'stop', rule: 'r-old' }] } as Rule
    expect(copyOf(stops, { from: plate, to: small }, new Map([['r-old', 'r-new']]))).toMatchObject({
      title: 'Hall plate: on',
      labels: ['Hall plate'],
      when: [{ device: 'small', event: 'button1' }],
      do: [{ kind: 'stop', rule: 'r-new' }],
    })
  })
  it('are copied from one key to another, which nothing else starts', () => {
    const to = device('small', 'Hall plate')
    const there = { ...key, name: 'left', title: 'Left rocker' }
    to.description.events = [there]
    to.gestures = { left: { all: ['press', 'hold'] } } as Device['gestures']
    const way = { from: plate, to, key: { from: key, to: there } }
    const mine = {
      ...rule([
        { device: 'plate', event: 'button1', comparison: 'is', value: 'press' },
        { kind: 'time' },
        { device: 'plate', event: 'turn' },
      ]),
      title: 'Galley plate, button 1 pressed: Supper',
    } as Rule
    const other = rule([{ device: 'plate', event: 'turn' }])
    const twice = rule([{ device: 'plate', event: 'button1', comparison: 'is', value: 'double' }])
    expect(carried([mine, other, twice], way)).toEqual({ rules: [mine], missing: ['R'] })
    expect(copyOf(mine, way, new Map())).toMatchObject({
      title: 'Hall plate, left rocker pressed: Supper',
      when: [{ device: 'small', event: 'left', value: 'press' }],
    })
    expect(copyOf(mine, way, new Map()).when).toHaveLength(1)
  })
})
