import { expect, test } from 'vitest'
import type { Device, Room } from '@/api/types'
import { houseNow, presence } from './houseNow'

const room = (id: string, floor = '') => ({ id, title: id, floor, order: 0, revision: 1 }) as Room
type Given = { role: string; value: unknown; setting?: boolean; changedAt?: string; idle?: boolean }
function device(id: string, at: string, given: Given[], more: Partial<Device> = {}): Device {
  const properties = given.map((g) => ({ name: g.role, role: g.role, setting: g.setting ? {} : undefined }))
  const states = given.map((g) => ({ name: g.role, certainty: 'confirmed', ...g }))
  return { id, title: id, room: at, description: { properties }, states, ...more } as unknown as Device
}

test('a table has the columns and rooms of which something is known', () => {
  const rooms = [room('hall', 'Ground'), room('empty', 'Ground'), room('loft', 'Upper')]
  const lamp = device('lamp', 'loft', [{ role: 'brightness', value: 3 }], { light: 'brightness' })
  const plate = device('plate', 'hall', [])
  const door = device('door', 'hall', [
    { role: 'contact', value: true },
    { role: 'battery', value: 50 },
  ])
  const now = houseNow(rooms, [lamp, plate, door])
  expect(now.floors.map((f) => [f.title, f.rooms.map((r) => r.id)])).toEqual([
    ['Ground', ['hall']],
    ['Upper', ['loft']],
  ])
  expect([...now.columns]).toEqual(['lamps', 'openings'])
  expect(now.floors[1]!.rooms[0]!.lamps).toEqual([lamp])
  expect(houseNow([], [])).toEqual({ floors: [], columns: new Set() })
})

test('what is in no room stands last', () => {
  const lamp = device('lamp', 'gone', [], { light: 'power' })
  expect(houseNow([room('hall')], [lamp]).floors.map((f) => f.rooms[0]!.title)).toEqual(['In no room yet'])
})

test('a thermometer goes before what a thermostat measures, and what does not count is left out', () => {
  const thermostat = device('thermostat', 'hall', [
    { role: 'temperature', value: 22 },
    { role: 'setpoint', value: 20 },
  ])
  const climate = device('climate', 'hall', [
    { role: 'temperature', value: 19 },
    { role: 'humidity', value: 50, idle: true },
  ])
  const at = (devices: Device[]) => houseNow([room('hall')], devices).floors[0]!.rooms[0]!
  expect(at([thermostat, climate]).warmth?.device.id).toBe('climate')
  expect(at([thermostat]).warmth?.device.id).toBe('thermostat')
  expect(at([thermostat, climate]).wanted?.device.id).toBe('thermostat')
  expect(at([thermostat, climate]).air).toEqual([])
})

test('some things are told only while they matter', () => {
  const leak = (value: boolean) =>
    device('leak', 'hall', [
      { role: 'leak', value },
      { role: 'motion', value: false },
    ])
  const kiln = (value: boolean) => device('kiln', 'hall', [{ role: 'power', value }], { attendedOnly: true })
  const notes = (d: Device) =>
    houseNow([room('hall')], [d]).floors.flatMap((f) => f.rooms.flatMap((r) => r.notes.map((n) => n.device.id)))
  expect([notes(leak(true)), notes(leak(false)), notes(kiln(true)), notes(kiln(false))]).toEqual([
    ['leak'],
    [],
    ['kiln'],
    [],
  ])
})

test('somebody is there while one sensor sees them; else the latest counts', () => {
  const eye = (value: boolean, changedAt: string, silent = false) =>
    houseNow([room('hall')], [device('eye', 'hall', [{ role: 'motion', value, changedAt }], { silent })]).floors[0]!
      .rooms[0]!.somebody[0]!
  expect(presence([eye(false, '2026-11-01T10:00:00Z'), eye(true, '2026-11-01T09:00:00Z')])).toEqual({ now: true })
  expect(presence([eye(false, '2026-11-01T10:00:00Z'), eye(false, '2026-11-01T11:00:00Z')])).toEqual({
    now: false,
    at: '2026-11-01T11:00:00Z',
  })
  expect(presence([eye(true, '2026-11-01T10:00:00Z', true)])).toBeUndefined()
  expect(presence([])).toBeUndefined()
})
