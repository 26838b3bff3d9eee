import type { Device, Property, PropertyState, Room } from '@/api/types'

/** Roles in the order in which they tell most about a device. */
const telling = [
  'position',
  'power',
  'brightness',
  'lock',
  'contact',
  'motion',
  'leak',
  'setpoint',
  'speed',
  'temperature',
  'humidity',
  'level',
  'electricPower',
  'illuminance',
]

/** Roles that say how a device is doing, not what it is for. */
const upkeep = new Set(['battery', 'reception', 'handler'])

/** Whether a property says how a device is doing rather than what it is for. */
export const isUpkeep = (p: Property) => upkeep.has(p.role ?? '')

/** How early a property is told of, by what it means: the lower, the earlier. */
export function tellingOrder(p: Property): number {
  const place = telling.indexOf(p.role ?? '')
  if (isUpkeep(p)) return telling.length + 2
  return place >= 0 ? place : telling.length + Number(!p.writable)
}

/** The state that stands for a device in a list. */
export function mainState(d: Device): PropertyState | undefined {
  const used = usedProperties(d)
  for (const role of telling) {
    const property = used.find((p) => p.role === role)
    if (property) return d.states.find((s) => s.name === property.name)
  }
  return d.states.find((s) => used.some((p) => p.name === s.name)) ?? d.states[0]
}

/** The properties that are used from day to day: those that count as the device is set up, and set nothing up. */
export function usedProperties(d: Device): Property[] {
  const idle = new Set(d.states.filter((s) => s.idle).map((s) => s.name))
  return d.description.properties.filter((p) => !p.setting && !idle.has(p.name))
}

export type Grouping = 'room' | 'maker' | 'connection' | 'label'
export const groupings: { value: Grouping; title: string }[] = [
  { value: 'room', title: 'by room' },
  { value: 'maker', title: 'by maker' },
  { value: 'connection', title: 'by connection' },
  { value: 'label', title: 'by label' },
]

export interface DeviceGroup {
  id: string
  title: string
  devices: Device[]
}

/** Groups devices; rooms in the owner's order, all else by name. A device with two labels is in two groups. */
export function groupDevices(
  devices: Device[],
  by: Grouping,
  rooms: Room[],
  connection: (d: Device) => string,
): DeviceGroup[] {
  const none = { room: 'No room yet', maker: 'No maker', connection: 'No connection', label: 'No label' }[by]
  const keys = (d: Device): string[] => {
    switch (by) {
      case 'room':
        return [d.room ?? '']
      case 'maker':
        return [d.maker]
      case 'connection':
        return [connection(d)]
      default:
        return d.labels?.length ? d.labels : ['']
    }
  }
  const groups = new Map<string, Device[]>()
  for (const d of devices)
    for (const key of keys(d)) {
      const list = groups.get(key)
      if (list) list.push(d)
      else groups.set(key, [d])
    }
  const order = by === 'room' ? rooms.map((r) => r.id) : [...groups.keys()].filter(Boolean).sort()
  return [...order, ''].flatMap((id) => {
    const list = groups.get(id)
    if (!list?.length) return []
    const title = by === 'room' ? rooms.find((r) => r.id === id)?.title : id
    return [{ id, title: title || none, devices: list }]
  })
}

export type Sorting = 'name' | 'model' | 'changed' | 'silent'
export const sortings: { value: Sorting; title: string }[] = [
  { value: 'name', title: 'by name' },
  { value: 'model', title: 'by maker and model' },
  { value: 'changed', title: 'last changed first' },
  { value: 'silent', title: 'longest unheard first' },
]

const latest = (d: Device, when: 'changedAt' | 'reportedAt') =>
  d.states.reduce((most, s) => ((s[when] ?? '') > most ? s[when]! : most), '')

/** Sorts devices, leaving the list given as it was; equals stay by name. */
export function sortDevices(devices: Device[], by: Sorting): Device[] {
  const key = new Map<string, string>()
  const keyOf = {
    name: () => '',
    model: (d: Device) => `${d.maker} ${d.model}`,
    changed: (d: Device) => latest(d, 'changedAt'),
    silent: (d: Device) => latest(d, 'reportedAt'),
  }[by]
  for (const d of devices) key.set(d.id, keyOf(d))
  const down = by === 'changed' ? -1 : 1
  return [...devices].sort((a, b) => {
    const [x, y] = [key.get(a.id)!, key.get(b.id)!]
    return x === y ? names.compare(a.title, b.title) : x < y ? -down : down
  })
}
const names = new Intl.Collator(undefined, { numeric: true })
