import type { Entry, Since } from '@/api/types'

/** A piece of a sentence; names are set apart. */
export interface Piece {
  text: string
  name: boolean
}

/** A sentence of the journal in pieces, its names apart. Where one name is part of another, the longer one counts. */
export function pieces(text: string, names: string[] = []): Piece[] {
  const longest = [...names].sort((a, b) => b.length - a.length)
  const list: Piece[] = []
  let plain = ''
  for (let i = 0; i < text.length;) {
    const name = longest.find((n) => n && text.startsWith(n, i))
    if (!name) {
      plain += text[i]!
      i++
      continue
    }
    if (plain) list.push({ text: plain, name: false })
    plain = ''
    list.push({ text: name, name: true })
    i += name.length
  }
  if (plain) list.push({ text: plain, name: false })
  return list
}

/** An entry of a group, and how many steps it is from where that begins. */
export interface Follower {
  entry: Entry
  depth: number
}
/** What follows from one cause, in the order of time; the first is where it begins. */
export interface CauseGroup {
  root: Entry
  followers: Follower[]
}

/** What comes this much later than what it follows from, in ms, begins a line of its own: it is looked for at its own time. */
const LATER = 60_000

/** Groups entries, given newest first, by what they follow from; the group that began last comes first. */
export function groupByCause(entries: Entry[]): CauseGroup[] {
  const of = new Map<number, { group: CauseGroup; depth: number; at: number }>()
  const groups: CauseGroup[] = []
  for (const entry of [...entries].reverse()) {
    const at = Date.parse(entry.at)
    const above = entry.parent === undefined ? undefined : of.get(entry.parent)
    if (above && at - above.at < LATER) {
      above.group.followers.push({ entry, depth: above.depth + 1 })
      of.set(entry.id, { group: above.group, depth: above.depth + 1, at })
    } else {
      const group = { root: entry, followers: [] }
      groups.push(group)
      of.set(entry.id, { group, depth: 0, at })
    }
  }
  return groups.reverse()
}

/** Whether nothing happened since a time that one would want to know. */
export const isUneventful = (s: Since): boolean =>
  !s.acted && !s.failed.length && !s.never.length && !s.commands.length && !s.new.length && !s.silent.length
