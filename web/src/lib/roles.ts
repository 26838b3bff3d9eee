import type { Field } from '@/api/types'

/** The roles an owner can give a value that nothing describes, with the unit that goes with each. */
export const numberRoles = [
  { value: '', title: 'a number of its own', unit: '' },
  { value: 'temperature', title: 'temperature', unit: '°C' },
  { value: 'humidity', title: 'humidity', unit: '%' },
  { value: 'illuminance', title: 'light', unit: 'lx' },
  { value: 'battery', title: 'battery', unit: '%' },
  { value: 'brightness', title: 'brightness', unit: '%' },
  { value: 'electricPower', title: 'electric power', unit: 'W' },
  { value: 'energy', title: 'energy', unit: 'kWh' },
  { value: 'level', title: 'level', unit: 'cm' },
  { value: 'volume', title: 'volume', unit: '%' },
  { value: 'setpoint', title: 'set temperature', unit: '°C' },
  { value: 'position', title: 'shutter', unit: '%' },
  { value: 'speed', title: 'speed', unit: '%' },
  { value: 'signal', title: 'signal', unit: '%' },
]
export const booleanRoles = [
  { value: '', title: 'a yes or no of its own', unit: '' },
  { value: 'power', title: 'power', unit: '' },
  { value: 'contact', title: 'contact', unit: '' },
  { value: 'motion', title: 'motion', unit: '' },
  { value: 'leak', title: 'leak', unit: '' },
  { value: 'lock', title: 'lock', unit: '' },
  { value: 'mute', title: 'muted', unit: '' },
]
export const textRoles = [
  { value: '', title: 'a text of its own', unit: '' },
  { value: 'input', title: 'input', unit: '' },
]
export const rolesFor = (type: Field['type']) =>
  type === 'number' ? numberRoles : type === 'boolean' ? booleanRoles : textRoles

/** The last part of a pointer, as a title to begin with. */
export function titleOf(pointer: string): string {
  const name = pointer.split('/').pop() ?? ''
  const words = name.replace(/([a-z])([A-Z])/g, '$1 $2').replace(/[_-]+/g, ' ')
  return words ? words[0]!.toUpperCase() + words.slice(1).toLowerCase() : 'Value'
}

/** What a field is called to begin with: its suggested meaning, or its own name. */
export function suggestedTitle(f: Field): string {
  const role = rolesFor(f.type).find((r) => r.value && r.value === f.role)
  return role ? role.title[0]!.toUpperCase() + role.title.slice(1) : titleOf(f.pointer)
}
