import type { Person } from '@/api/types'

/** The roles, and what each may. */
export const ROLES: { value: Person['role']; title: string; may: string }[] = [
  { value: 'owner', title: 'owner', may: 'sees and does everything' },
  { value: 'member', title: 'member', may: 'sees and operates everything, and sets nothing up' },
  { value: 'guest', title: 'guest', may: 'sees the dashboards given here, and operates what stands on them' },
]

/** The colors of people's marks, by their names in the palette. */
export const COLORS: { value: NonNullable<Person['color']>; title: string }[] = [
  { value: 'verdigris', title: 'green' },
  { value: 'slate', title: 'blue' },
  { value: 'plum', title: 'plum' },
  { value: 'ochre', title: 'yellow' },
  { value: 'ember', title: 'red' },
]
