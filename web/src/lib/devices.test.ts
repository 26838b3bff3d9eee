import { expect, test } from 'vitest'
import type { Device, Room } from '@/api/types'
import { groupDevices, mainState, sortDevices, type Sorting, usedProperties } from './devices'

const device = (id: string, more: Partial<Device> = {}) =>
  ({
    id,
    title: id,
    maker: 'Quillet',
    description: { properties: [], events: [], actions: [] },
    states: [],
    ...more,
  }) as unknown as Device
const rooms = [
  { id: 'r2', title: 'Galley' },
  { id: 'r1', title: 'Attic' },
] as unknown as Room[]

test('what does not count as a device is set up does not stand for it', () => {
  const properties = [
    { name: 'output', role: 'power' },
    { name: 'position', role: 'position' },
    { name: 'kind', role: 'option', setting: { wrong: 'x' } },
  ]
  const states = [{ name: 'kind' }, { name: 'output', idle: true }, { name: 'position' }] as unknown as Device['states']
  const shutter = device('s', { description: { properties, events: [], actions: [] } as never, states })
  expect(mainState(shutter)?.name).toBe('position')
  expect(usedProperties(shutter).map((p) => p.name)).toEqual(['position'])
  const twin = device('t', {
    description: { properties, events: [], actions: [] } as never,
    states: [{ name: 'kind' }, { name: 'output' }, { name: 'position', idle: true }] as never,
  })
  expect(mainState(twin)?.name).toBe('output')
})

test('rooms come in the order of the owner, and what has none comes last', () => {
  const groups = groupDevices(
    [device('a'), device('b', { room: 'r1' }), device('c', { room: 'r2' })],
    'room',
    rooms,
    () => '',
  )
  expect(groups.map((g) => [g.title, g.devices.map((d) => d.id)])).toEqual([
    ['Galley', ['c']],
    ['Attic', ['b']],
    ['No room yet', ['a']],
  ])
})

test('a device with two labels is found under both', () => {
  const groups = groupDevices([device('a', { labels: ['night', 'garden'] }), device('b')], 'label', rooms, () => '')
  expect(groups.map((g) => g.title)).toEqual(['garden', 'night', 'No label'])
})

test('what tells most about a device stands for it', () => {
  const states = [{ name: 'battery' }, { name: 'open' }]
  const properties = [
    { name: 'battery', role: 'battery' },
    { name: 'open', role: 'contact' },
  ]
  const d = device('a', { states, description: { properties, events: [], actions: [] } } as unknown as Partial<Device>)
  expect(mainState(d)?.name).toBe('open')
  expect(mainState(device('b'))).toBeUndefined()
})

test('devices are sorted by name as people count, by model, by what changed last and by what is longest unheard', () => {
  const said = (changedAt?: string, reportedAt?: string) => [{ name: 'x', changedAt, reportedAt }] as Device['states']
  const list = [
    device('Lamp 10', { maker: 'Zed', states: said('2026-11-02', '2026-11-02') }),
    device('Lamp 9', { maker: 'Abe', states: said('2026-11-03', '2026-11-05') }),
    device('Lamp 11', { maker: 'Abe', states: said(undefined, undefined) }),
  ]
  const sorted = (by: Sorting) => sortDevices(list, by).map((d) => d.id)
  expect(sorted('name')).toEqual(['Lamp 9', 'Lamp 10', 'Lamp 11'])
  expect(sorted('model')).toEqual(['Lamp 9', 'Lamp 11', 'Lamp 10'])
  expect(sorted('changed')).toEqual(['Lamp 9', 'Lamp 10', 'Lamp 11'])
  expect(sorted('silent')).toEqual(['Lamp 11', 'Lamp 10', 'Lamp 9'])
  expect(list[0]?.id).toBe('Lamp 10')
})
