import { describe, expect, it } from 'vitest'
import type { Device, Property, Room } from '@/api/types'
import { mainState } from './devices'
import { timeWords } from './schedules'
import { comparisons, join, propertyChoices, split, triggerChoices } from './sentences'

const property = (name: string, role: string, type: Property['type'] = 'number'): Property => ({
  name,
  title: name.charAt(0).toUpperCase() + name.slice(1),
  role,
  type,
  minimum: 0,
  maximum: 100,
  resolution: 1,
  writable: role === 'brightness',
})
const device = (id: string, room: string | undefined, ...properties: Property[]): Device => ({
  id,
  revision: 1,
  title: id,
  room,
  connection: 'c',
  address: '1',
  hardware: id,
  maker: 'm',
  model: 'x',
  description: { properties, events: [{ name: 'turn', title: 'Turn', number: true }], actions: [] },
  silent: false,
  usedBy: [],
  care: { attention: [] },
  states: properties.map((p) => ({
    name: p.name,
    value: 1,
    text: '1',
    on: false,
    certainty: 'confirmed',
    holders: [],
  })),
})
const rooms: Room[] = [{ id: 'hall', revision: 1, title: 'Hall', order: 0 }]
const lamp = device('Lamp', 'hall', property('battery', 'battery'), property('brightness', 'brightness'))
const stray = device('Stray', undefined, property('light', 'illuminance'))

describe('what can be chosen in a sentence', () => {
  it('is grouped by room, what has none last', () => {
    expect(propertyChoices([stray, lamp], rooms).map((c) => `${c.group}: ${c.title}`)).toEqual([
      'Hall: Lamp battery',
      'Hall: Lamp brightness',
      'Without a room: Stray light',
    ])
    expect(propertyChoices([stray, lamp], rooms, (p) => p.writable)).toHaveLength(1)
  })
  it('goes through one text and back', () => expect(split(join('device-1', 'a b'))).toEqual(['device-1', 'a b']))
  it('offers events as triggers too', () => {
    expect(triggerChoices([lamp], rooms).map((c) => split(c.value)[1])).toContain('event:turn')
  })
  it('compares only numbers by size', () => {
    expect(comparisons(property('x', 'brightness')).map((c) => c.value)).toContain('below')
    expect(comparisons(property('x', 'contact', 'boolean')).map((c) => c.value)).toEqual(['is', 'isNot'])
  })
})

describe('a device in a list', () => {
  it('shows what tells most about it', () => {
    expect(mainState(lamp)?.name).toBe('brightness')
    expect(mainState(device('Dial', 'hall', property('battery', 'battery')))?.name).toBe('battery')
  })
})

describe('a daily time in words', () => {
  it.each([
    [{ anchor: 'clock', clock: '07:30' }, 'daily at 07:30'],
    [{ anchor: 'clock', clock: '07:30', weekdays: [1, 0] }, 'Mon, Sun at 07:30'],
    [{ anchor: 'sunset' }, 'daily at sunset'],
    [{ anchor: 'sunset', offsetMinutes: -15 }, 'daily 15 min before sunset'],
    [{ anchor: 'sunrise', offsetMinutes: 90, weekdays: [6] }, 'Sat 1 h 30 after sunrise'],
  ] as const)('%o is %s', (at, words) =>
    expect(timeWords({ ...at, weekdays: 'weekdays' in at ? [...at.weekdays] : undefined })).toBe(words),
  )
})
