import type { Device, Group, House } from '@/api/types'

/** Devices that rules can speak of as one: a group, or all in a room, on a floor or with a label. */
export interface DeviceSet {
  id: string
  /** What it is called after "all", such as "in the Galley". */
  title: string
  kind: 'Groups' | 'Rooms' | 'Floors' | 'Labels'
  devices: string[]
}

/** How the hub names a floor and a label, which have no id but what they are called. */
const FLOOR = 'floor:'
const LABEL = 'label:'

export function deviceSets(groups: Group[], rooms: House['rooms'], devices: Device[]): DeviceSet[] {
  const ids = (fits: (d: Device) => boolean) => devices.filter(fits).map((d) => d.id)
  const floors = [...new Set(rooms.map((r) => r.floor).filter((f) => f !== undefined && f !== ''))]
  const labels = [...new Set(devices.flatMap((d) => d.labels ?? []))].sort()
  const all: DeviceSet[] = [
    ...groups.map((g) => ({ id: g.id, title: g.title, kind: 'Groups' as const, devices: g.devices ?? [] })),
    ...rooms.map((r) => ({
      id: r.id,
      title: `in ${r.title}`,
      kind: 'Rooms' as const,
      devices: ids((d) => d.room === r.id),
    })),
    ...floors.map((f) => {
      const here = new Set(rooms.filter((r) => r.floor === f).map((r) => r.id))
      return {
        id: FLOOR + f,
        title: `on ${f}`,
        kind: 'Floors' as const,
        devices: ids((d) => d.room !== undefined && here.has(d.room)),
      }
    }),
    ...labels.map((l) => ({
      id: LABEL + l,
      title: `labelled ${l}`,
      kind: 'Labels' as const,
      devices: ids((d) => (d.labels ?? []).includes(l)),
    })),
  ]
  return all.filter((s) => s.kind === 'Groups' || s.devices.length > 0)
}
