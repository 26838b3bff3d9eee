import type { Device, Property } from '@/api/types'

/** How large an instrument is drawn: in a row of a list or table, on a page, or on a panel that is read from two meters. */
export type FaceSize = 'row' | 'page' | 'panel'

/** The instruments that a property can be drawn as; what has none is told in words alone. */
export type Face = 'lamp' | 'opening' | 'lock' | 'shutter' | 'warmth' | 'player' | 'level' | 'reading'

const byRole: Record<string, Face> = { contact: 'opening', lock: 'lock', position: 'shutter', setpoint: 'warmth' }

/** The property by which a device plays and pauses, where it is a player: it says what it is playing. */
export function playingOf(device: Device): Property | undefined {
  const { properties } = device.description
  return properties.some((p) => p.role === 'track') ? properties.find((p) => p.role === 'power') : undefined
}

/** The face of a property, by what it means. */
export function faceOf(device: Device, property: Property): Face | undefined {
  if (property.name === device.light) return 'lamp'
  if (property.name === playingOf(device)?.name) return 'player'
  const face = byRole[property.role ?? '']
  if (face) return face
  if (property.type !== 'number') return undefined
  return property.writable ? 'level' : 'reading'
}
