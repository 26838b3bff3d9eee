import type { Composed, Field, Line, Picked, Security, Sending, Wire } from '@/api/types'
import { rolesFor, suggestedTitle, titleOf } from './roles'

/** How a device that nothing describes is reached. */
export type Way = 'topic' | 'http' | 'line'

/** A message that is being written. Headers are lines of text, each with a name and a value. */
export interface SendingDraft {
  topic: string
  address: string
  method: string
  headers: string
  contentType: string
  body: string
}
export const emptySending = (): SendingDraft => ({
  topic: '',
  address: '',
  method: '',
  headers: '',
  contentType: '',
  body: '',
})

/** A value, or an event, that is being described. */
export interface ValueDraft {
  on: boolean
  field?: Field
  kind: 'read' | 'setOnly' | 'event'
  type: Field['type']
  pattern: string
  title: string
  role: string
  unit: string
  factor: string
  from: string
  to: string
  no: string
  yes: string
  choices: string
  /** The message that asks for it, over a line. */
  ask: string
  /** How the address is asked that it was found at, where that is not the device's own. */
  read?: SendingDraft
  sets: boolean
  set: SendingDraft
}

export interface CommandDraft {
  title: string
  send: SendingDraft
}

const opposites: [string, string][] = [
  ['off', 'on'],
  ['false', 'true'],
  ['no', 'yes'],
  ['closed', 'open'],
]

/** The words for no and yes that a device writes which wrote one of them. */
export function wordsOf(value: string): [string, string] | undefined {
  const pair = opposites.find((p) => p.includes(value.toLowerCase()))
  if (!pair) return undefined
  const written = (word: string) => {
    if (value === value.toUpperCase()) return word.toUpperCase()
    return value === value.toLowerCase() ? word : word[0]!.toUpperCase() + word.slice(1)
  }
  return [written(pair[0]), written(pair[1])]
}

/** A draft of a value that was found in what a device says. */
export function draftOf(field: Field): ValueDraft {
  const text = !!field.pattern
  const spoken =
    field.type === 'boolean' && (text || field.value !== field.value.toLowerCase() || /^o(n|ff)$/.test(field.value))
  const words = spoken ? wordsOf(field.value) : undefined
  const before = text ? (field.message ?? '').slice(0, (field.message ?? '').indexOf(field.value)) : ''
  const named = before
    .replace(/<[^>]*>/g, ' ')
    .replace(/[^A-Za-z0-9 ]+/g, ' ')
    .trim()
  return {
    on: false,
    field,
    kind: 'read',
    type: field.type,
    pattern: field.pattern ?? '',
    title:
      text && !field.role && named ? named[0]!.toUpperCase() + named.slice(1).toLowerCase() : suggestedTitle(field),
    role: field.role ?? '',
    unit: '',
    factor: '',
    from: '',
    to: '',
    no: words?.[0] ?? '',
    yes: words?.[1] ?? '',
    choices: '',
    ask: field.asked ?? '',
    sets: false,
    set: emptySending(),
  }
}

/** A draft of a value that is only set. */
export const setOnlyDraft = (): ValueDraft => ({
  ...draftOf({ pointer: '', value: '', type: 'boolean' }),
  field: undefined,
  on: true,
  kind: 'setOnly',
  title: '',
  sets: true,
})

/** Whether two drafts are of the same value. */
export const sameValue = (a: Field, b: Field): boolean =>
  a.pointer === b.pointer && (a.pattern ?? '') === (b.pattern ?? '')

/** Headers out of lines of text; a line without a colon is a name without a value, which the hub refuses where it stands. */
export const headersOf = (text: string): NonNullable<Sending['headers']> =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .map((line) => {
      const at = line.indexOf(':')
      return at < 0
        ? { 'htv:fieldName': line, 'htv:fieldValue': '' }
        : { 'htv:fieldName': line.slice(0, at).trim(), 'htv:fieldValue': line.slice(at + 1).trim() }
    })

export function sendingOf(draft: SendingDraft): Sending {
  const headers = headersOf(draft.headers)
  return {
    topic: draft.topic.trim() || undefined,
    address: draft.address.trim() || undefined,
    method: (draft.method || undefined) as Sending['method'],
    headers: headers.length ? headers : undefined,
    contentType: draft.contentType.trim() || undefined,
    body: draft.body || undefined,
  }
}

const numberOf = (text: string): number | undefined => {
  const value = Number(text.trim().replace(',', '.'))
  return text.trim() && Number.isFinite(value) ? value : undefined
}

export function pickedOf(way: Way, draft: ValueDraft): Picked {
  const role = rolesFor(draft.type).find((r) => r.value === draft.role)
  const own = draft.type === 'number' && !role?.value ? draft.unit.trim() : ''
  const choices = draft.choices
    .split(',')
    .map((c) => c.trim())
    .filter(Boolean)
  const sets = draft.kind !== 'event' && (draft.sets || draft.kind === 'setOnly')
  return {
    pointer: draft.pattern ? undefined : draft.field?.pointer,
    pattern: (draft.kind !== 'setOnly' && draft.pattern) || undefined,
    event: draft.kind === 'event' || undefined,
    setOnly: draft.kind === 'setOnly' || undefined,
    title: draft.title.trim() || titleOf(draft.field?.pointer ?? ''),
    type: draft.type,
    role: role?.value || undefined,
    unit: role?.unit || own || undefined,
    factor: draft.type === 'number' ? numberOf(draft.factor) : undefined,
    from: draft.type === 'number' ? numberOf(draft.from) : undefined,
    to: draft.type === 'number' ? numberOf(draft.to) : undefined,
    words: draft.type === 'boolean' && draft.no && draft.yes ? [draft.no, draft.yes] : undefined,
    choices: draft.type === 'text' && choices.length ? choices : undefined,
    read:
      draft.kind !== 'read'
        ? undefined
        : way === 'line'
          ? draft.ask.trim()
            ? { body: draft.ask.trim() }
            : undefined
          : draft.read && sendingOf(draft.read),
    set: sets ? sendingOf(draft.set) : undefined,
  }
}

/** How a device is reached, as it is being described. */
export interface ReachDraft {
  way: 'http' | 'line'
  address: string
  read: SendingDraft
  seconds: string
  scheme: '' | Security['scheme'] | 'header' | 'query'
  keyName: string
  user: string
  key: string
  end: string
  begin: string
  json: boolean
  opening: string
  alive: string
  accepted: string
  refused: string
  unanswered: boolean
}

export const emptyReach = (): ReachDraft => ({
  way: 'http',
  address: '',
  read: emptySending(),
  seconds: '30',
  scheme: '',
  keyName: '',
  user: '',
  key: '',
  end: '',
  begin: '',
  json: false,
  opening: '',
  alive: '',
  accepted: '',
  refused: '',
  unanswered: false,
})

const linesOf = (text: string) =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)

export const lineOf = (reach: ReachDraft): Line => ({
  end: reach.end || undefined,
  begin: reach.begin || undefined,
  json: reach.json || undefined,
  opening: reach.opening.trim() ? linesOf(reach.opening) : undefined,
  alive: reach.alive.trim() || undefined,
  accepted: reach.accepted || undefined,
  refused: reach.refused || undefined,
  unanswered: reach.unanswered || undefined,
})

export const securityOf = (reach: ReachDraft): Security | undefined => {
  if (!reach.scheme) return undefined
  if (reach.scheme === 'header' || reach.scheme === 'query')
    return { scheme: 'apikey', in: reach.scheme, name: reach.keyName.trim() }
  return { scheme: reach.scheme }
}

/** Whether a message is more than the device's own address, asked plainly. */
const plain = (s: Sending) => !s.address && !s.method && !s.headers && !s.body && !s.contentType

/** How a device is reached, as the hub takes it. */
export function reachOf(reach: ReachDraft): Pick<Composed, 'address' | 'read' | 'line' | 'security' | 'user' | 'key'> {
  const address = reach.address.trim()
  if (reach.way === 'line') return { address, line: lineOf(reach) }
  const read = sendingOf(reach.read)
  return {
    address,
    read: plain(read) ? undefined : read,
    security: securityOf(reach),
    user: reach.user.trim() || undefined,
    key: reach.key || undefined,
  }
}

/** How much of what went over the wire is kept to look at. */
const MOST_WIRE = 200

export const appended = (before: Wire[], more: Wire[]): Wire[] => before.concat(more).slice(-MOST_WIRE)
