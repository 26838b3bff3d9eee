import type { Device, Group, Property } from '@/api/types'
import { usedProperties } from './devices'

/** What a group's members have in common: a role, and a property that shows what its values are like. */
export interface Shared {
  role: string
  property: Property
}

const onOff: Pick<Property, 'title' | 'role' | 'type' | 'words'> = {
  title: 'Power',
  role: 'power',
  type: 'boolean',
  words: ['off', 'on'],
}

/** The roles that members of a group have, each once. What dims can also be switched on and off. */
export function sharedRoles(group: Pick<Group, 'devices'> | undefined, devices: Device[]): Shared[] {
  const shared: Shared[] = []
  const put = (property: Property) => {
    if (property.role && !shared.some((s) => s.role === property.role)) shared.push({ role: property.role, property })
  }
  for (const id of group?.devices ?? []) {
    const device = devices.find((d) => d.id === id)
    if (!device) continue
    for (const p of usedProperties(device)) {
      if (p.role === 'brightness') put({ ...p, ...onOff })
      put(p)
    }
  }
  return shared
}
