import type { Device, PropertyState } from '@/api/types'

/** Roles in the order in which they tell most about a device. */
const telling = ['power', 'brightness', 'contact', 'motion', 'temperature', 'humidity', 'illuminance']

/** The state that stands for a device in a list. */
export function mainState(d: Device): PropertyState | undefined {
  for (const role of telling) {
    const property = d.description.properties.find((p) => p.role === role)
    if (property) return d.states.find((s) => s.name === property.name)
  }
  return d.states[0]
}
