import type { Device, Property, PropertyState, Room } from '@/api/types'
import { usedProperties } from './devices'
import { floorsOf } from './floors'

/** A property of a device as it stands. */
export interface Reading {
  device: Device
  property: Property
  state: PropertyState
}

/** A reading as a series of the record. */
export const seriesOf = (r: Reading) => `${r.device.id}~${r.property.name}`

/** What is worth knowing of a room at a glance. */
export interface RoomNow {
  id: string
  title: string
  devices: Device[]
  lamps: Device[]
  warmth?: Reading
  wanted?: Reading
  air: Reading[]
  openings: Reading[]
  somebody: Reading[]
  /** What is told only while it matters: water on the floor, a level, something on that a hand must attend. */
  notes: Reading[]
}

/** A floor with its rooms. */
export interface FloorNow {
  title: string
  rooms: RoomNow[]
}

const openings = new Set(['contact', 'lock', 'position'])
const columns = ['lamps', 'warmth', 'air', 'openings', 'somebody', 'notes'] as const
export type Column = (typeof columns)[number]

/** What a device reads, by the device as it stands: of a large home only what changed is gone through again. */
const readingsOf = new WeakMap<Device, Reading[]>()
function readings(device: Device): Reading[] {
  const there = readingsOf.get(device)
  if (there) return there
  const states = new Map(device.states.map((s) => [s.name, s]))
  const list = usedProperties(device).flatMap((property) => {
    const state = states.get(property.name)
    return state ? [{ device, property, state }] : []
  })
  readingsOf.set(device, list)
  return list
}

function roomNow(id: string, title: string, devices: Device[]): RoomNow {
  const all = devices.flatMap(readings)
  const by = (role: string) => all.filter((r) => r.property.role === role)
  const told = (r: Reading) =>
    (r.property.role === 'leak' && r.state.value === true) ||
    r.property.role === 'level' ||
    (r.property.role === 'power' && !!r.device.attendedOnly && r.state.value === true)
  // A thermometer of the room rather than what a radiator measures of itself, where there are both.
  const warm = by('temperature')
  const setpoint = by('setpoint')[0]
  return {
    id,
    title,
    devices,
    lamps: devices.filter((d) => d.light),
    warmth: warm.find((r) => r.device.id !== setpoint?.device.id) ?? warm[0],
    wanted: setpoint,
    air: by('humidity').slice(0, 1),
    openings: all.filter((r) => openings.has(r.property.role ?? '')),
    somebody: by('motion'),
    notes: all.filter(told),
  }
}

const filled = (room: RoomNow, column: Column) => {
  const it = room[column]
  return Array.isArray(it) ? it.length > 0 : it !== undefined
}

/** The floors and rooms of a home with what is worth knowing of each; a room of which nothing is known is left out. */
export function houseNow(rooms: Room[], devices: Device[]): { floors: FloorNow[]; columns: Set<Column> } {
  const inRoom = new Map<string, Device[]>()
  for (const d of devices) {
    const id = d.room ?? ''
    const here = inRoom.get(id)
    if (here) here.push(d)
    else inRoom.set(id, [d])
  }
  const floors = floorsOf(rooms).map((floor) => ({
    title: floor.title,
    rooms: floor.rooms.map((r) => roomNow(r.id, r.title, inRoom.get(r.id) ?? [])),
  }))
  const known = new Set(rooms.map((r) => r.id))
  const without = devices.filter((d) => !known.has(d.room ?? ''))
  if (without.length) floors.push({ title: '', rooms: [roomNow('', 'In no room yet', without)] })
  const told = floors
    .map((f) => ({ ...f, rooms: f.rooms.filter((r) => columns.some((c) => filled(r, c))) }))
    .filter((f) => f.rooms.length)
  const all = told.flatMap((f) => f.rooms)
  return { floors: told, columns: new Set(columns.filter((c) => all.some((r) => filled(r, c)))) }
}

/** Who was last in a room: somebody is there now, or when somebody last was; undefined where nobody is known to have been. */
export function presence(readings: Reading[]): { now: boolean; at?: string } | undefined {
  const heard = readings.filter((r) => r.state.certainty !== 'unknown' && !r.device.silent)
  if (!heard.length) return undefined
  if (heard.some((r) => r.state.value === true)) return { now: true }
  const at = heard
    .map((r) => r.state.changedAt ?? '')
    .sort()
    .at(-1)
  return at ? { now: false, at } : undefined
}
