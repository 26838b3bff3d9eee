import type { Device, ExpressionWord, Group, Modes, Property, Room, Rule, Scene, Value } from '@/api/types'
import { usedProperties } from './devices'
import { sharedRoles } from './groups'
import { OWN } from './own'

/** How expressions are shown and typed: they name things by their ids, people read names. What they mean is the hub's. */

export interface Names {
  everything: Device[]
  groups: Group[]
  rooms: Room[]
  modes: Modes | undefined
  /** What only scripts name. */
  scenes?: Scene[]
  rules?: Rule[]
}

/** What a text in quotes stands for: its name, where it is an id of the home's. */
export function nameOf(id: string, names: Names): string | undefined {
  if (id === OWN) return undefined
  return (
    names.everything.find((d) => d.id === id)?.title ??
    names.groups.find((g) => g.id === id)?.title ??
    names.rooms.find((r) => r.id === id)?.title ??
    names.everything.find((d) => d.own)?.description.properties.find((p) => p.name === id)?.title ??
    names.modes?.modes.find((m) => m.id === id)?.title ??
    names.scenes?.find((s) => s.id === id)?.title ??
    names.rules?.find((r) => r.id === id)?.title
  )
}

const CALL = /\b(value|variable|group|room)\(\s*"([^"]*)"(?:\s*,\s*"([^"]*)")?\s*\)/g
const WHICH = /\bwhich\(\s*"([^"]*)"\s*,\s*"([^"]*)"\s*,\s*([^)]*?)\s*\)/g
const QUOTED = /"([^"\n]*)"/g

/** An expression with names in the place of ids: Landing sensor motion && hour > 22. */
export function readable(text: string, names: Names): string {
  return text
    .replace(WHICH, (whole, id: string, role: string, value: string) => {
      const group = names.groups.find((g) => g.id === id)
      const shared = sharedRoles(group, names.everything).find((s) => s.role === role)
      return group && shared ? whichAre(group, shared.property, value) : whole
    })
    .replace(CALL, (whole, kind: string, id: string, name?: string) => {
      const title = nameOf(id, names)
      if (!title) return whole
      if (kind === 'variable') return title
      const property = names.everything
        .find((d) => d.id === id)
        ?.description.properties.find((p) => p.name === name)?.title
      return kind === 'value' ? `${title} ${(property ?? name ?? '').toLowerCase()}` : `${name} in ${title}`
    })
    .replace(QUOTED, (whole, id: string) => nameOf(id, names) ?? whole)
}

/** The names of the members of a group that are at a value, in words. */
function whichAre(group: Group, property: Pick<Property, 'title' | 'words'>, value: string): string {
  const state = { false: property.words?.[0], true: property.words?.[1] }[value]
  return `which of ${group.title} are ${state ?? `at ${property.title.toLowerCase()} ${value}`}`
}

/** Where ids stand in a text, with the name that each is shown by. */
export function idsIn(text: string, names: Names): { from: number; to: number; title: string }[] {
  return [...text.matchAll(QUOTED)].flatMap((m) => {
    const title = nameOf(m[1] ?? '', names)
    return title ? [{ from: m.index, to: m.index + m[0].length, title }] : []
  })
}

export interface Offer {
  label: string
  apply: string
  detail?: string
  info?: string
}

/** What can be typed, by the names that people know. */
export function offers(words: ExpressionWord[], names: Names): Offer[] {
  const { everything, groups, rooms, modes } = names
  const roomOf = (d: Device) => rooms.find((r) => r.id === d.room)?.title
  const apart = new Set(['value', 'known', 'variable', 'group', 'room', 'which'])
  return [
    ...everything.flatMap((d) =>
      usedProperties(d)
        .filter((p) => p.type !== 'color')
        .map((p) => ({
          label: d.own ? p.title : `${d.title} ${p.title.toLowerCase()}`,
          apply: d.own ? `variable("${p.name}")` : `value("${d.id}", "${p.name}")`,
          detail: d.own ? 'the house' : roomOf(d),
        })),
    ),
    ...groups.flatMap((g) =>
      sharedRoles(g, everything).map((s) => ({
        label: `${g.title} ${s.property.title.toLowerCase()} of each`,
        apply: `group("${g.id}", "${s.role}")`,
        detail: 'group',
      })),
    ),
    ...groups.flatMap((g) =>
      sharedRoles(g, everything).flatMap((s) =>
        (s.property.type === 'boolean' ? ['true', 'false'] : []).map((value) => ({
          label: whichAre(g, s.property, value),
          apply: `which("${g.id}", "${s.role}", ${value})`,
          detail: 'names',
        })),
      ),
    ),
    ...rooms.flatMap((r) => {
      const devices = everything.filter((d) => d.room === r.id).map((d) => d.id)
      return sharedRoles({ devices } as Group, everything).map((s) => ({
        label: `${r.title} ${s.property.title.toLowerCase()} of each`,
        apply: `room("${r.id}", "${s.role}")`,
        detail: 'room',
      }))
    }),
    ...(modes?.modes ?? []).map((m) => ({ label: `mode is ${m.title}`, apply: `mode == "${m.id}"`, detail: 'mode' })),
    ...words
      .filter((w) => !apart.has(w.name))
      .map((w) => ({ label: w.name, apply: w.pattern.replace(/\(.*/, '('), detail: w.pattern, info: w.help })),
  ]
}

/** What a script can want done, by the names that people know. */
export function deeds(names: Names): Offer[] {
  return [
    ...names.everything.flatMap((d) => [
      ...usedProperties(d)
        .filter((p) => p.writable)
        .map((p) =>
          d.own
            ? { label: `keep ${p.title}`, apply: `keep("${p.name}", `, detail: 'the house' }
            : { label: `set ${d.title} ${p.title.toLowerCase()}`, apply: `set("${d.id}", "${p.name}", ` },
        ),
      ...d.description.actions.map((a) => ({
        label: `ask ${d.title}: ${a.title.toLowerCase()}`,
        apply: a.inputs?.length
          ? `ask("${d.id}", "${a.name}", {${a.inputs.map((i) => `"${i.name}": `).join(', ')}})`
          : `ask("${d.id}", "${a.name}")`,
      })),
    ]),
    ...names.groups.map((g) => ({ label: `members of ${g.title}`, apply: `members("${g.id}")`, detail: 'group' })),
    ...names.rooms.map((r) => ({ label: `devices inside ${r.title}`, apply: `inside("${r.id}")`, detail: 'room' })),
    ...(names.scenes ?? []).map((s) => ({ label: `apply scene ${s.title}`, apply: `apply("${s.id}")` })),
    ...(names.rules ?? []).flatMap((r) => [
      { label: `start rule ${r.title}`, apply: `start("${r.id}")` },
      { label: `stop rule ${r.title}`, apply: `stop("${r.id}")` },
    ]),
  ]
}

/** What an expression comes to, in words. */
export function cameTo(value: Value | undefined): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return String(Math.round(value * 1000) / 1000)
  return typeof value === 'string' ? `“${value}”` : 'not known now'
}
