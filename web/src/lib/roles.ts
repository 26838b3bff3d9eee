import type { Field } from '@/api/types'

/** The roles an owner can give a value that nothing describes, with the unit that goes with each. */
export const numberRoles = [
  { value: '', title: 'just a number', unit: '' },
  { value: 'temperature', title: 'temperature', unit: '°C' },
  { value: 'humidity', title: 'humidity', unit: '%' },
  { value: 'illuminance', title: 'light', unit: 'lx' },
  { value: 'battery', title: 'battery', unit: '%' },
  { value: 'brightness', title: 'brightness', unit: '%' },
  { value: 'electricPower', title: 'electric power', unit: 'W' },
  { value: 'energy', title: 'energy', unit: 'kWh' },
  { value: 'level', title: 'level', unit: 'cm' },
]
export const booleanRoles = [
  { value: '', title: 'just yes or no', unit: '' },
  { value: 'power', title: 'power', unit: '' },
  { value: 'contact', title: 'contact', unit: '' },
  { value: 'motion', title: 'motion', unit: '' },
  { value: 'leak', title: 'leak', unit: '' },
  { value: 'lock', title: 'lock', unit: '' },
]
export const rolesFor = (type: Field['type']) =>
  type === 'number' ? numberRoles : type === 'boolean' ? booleanRoles : [{ value: '', title: 'a text', unit: '' }]

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
