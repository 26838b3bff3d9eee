import { expect, test } from 'vitest'
import type { Device, Group, Room } from '@/api/types'
import { deviceSets } from './sets'

const device = (id: string, room: string, labels: string[] = []) => ({ id, room, labels }) as Device
const rooms = [
  { id: 'hall', title: 'Hall', floor: 'Ground' },
  { id: 'loft', title: 'Loft', floor: 'Top' },
  { id: 'shed', title: 'Shed' },
] as Room[]

test('groups, rooms, floors and labels are sets of devices, empty ones left out but groups', () => {
  const groups = [{ id: 'g', title: 'Nobody', devices: [] as string[] }] as Group[]
  const sets = deviceSets(groups, rooms, [device('a', 'hall', ['night']), device('b', 'loft', ['night', 'art'])])
  expect(sets.map((s) => [s.id, s.title, s.devices.join()])).toEqual([
    ['g', 'Nobody', ''],
    ['hall', 'in Hall', 'a'],
    ['loft', 'in Loft', 'b'],
    ['floor:Ground', 'on Ground', 'a'],
    ['floor:Top', 'on Top', 'b'],
    ['label:art', 'labelled art', 'b'],
    ['label:night', 'labelled night', 'a,b'],
  ])
})
