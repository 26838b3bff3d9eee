import { needsAttention } from '@/lib/care'
import { broken } from '@/lib/ruleStanding'
import type { useHome } from '@/stores/home'

type Home = ReturnType<typeof useHome>

/** A page of a place, with an address of its own. */
export interface Part {
  to: string
  title: string
  /** How much there waits for the owner. */
  waits?: (home: Home) => number
  /** Whether this home has it. */
  there?: (home: Home) => boolean
  /** Whether it is only for those who set the home up. */
  setsUp?: boolean
}

/** A place of the rail. Its address is that of its first part. */
export interface Place {
  title: string
  parts: Part[]
  /** Whether it stands at the foot of the rail. */
  foot?: boolean
}

/** Where everything is, in the order of the work. */
export const places: Place[] = [
  { title: 'Today', parts: [{ to: '/today', title: 'Today' }] },
  {
    title: 'Devices',
    parts: [
      { to: '/devices', title: 'All' },
      { to: '/found', title: 'Found', setsUp: true, waits: (h) => h.newcomers },
      { to: '/care', title: 'Care', setsUp: true, waits: (h) => h.devices.filter(needsAttention).length },
      {
        to: '/connections',
        title: 'Connections',
        setsUp: true,
        waits: (h) => h.connections.filter((c) => c.since && !c.up && !c.paused).length,
      },
      { to: '/messages', title: 'Messages', setsUp: true },
      { to: '/profiles', title: 'Profiles', setsUp: true },
    ],
  },
  {
    title: 'Light',
    parts: [
      { to: '/lights', title: 'Rooms' },
      { to: '/scenes', title: 'Scenes and sequences' },
      { to: '/moving', title: 'Moving light', setsUp: true },
      { to: '/curves', title: 'Day curves', setsUp: true },
    ],
  },
  {
    title: 'Rules',
    parts: [
      {
        to: '/rules',
        title: 'Rules',
        setsUp: true,
        waits: (h) => h.rules.filter(broken).length,
      },
      { to: '/schedules', title: 'Schedules', setsUp: true },
      { to: '/buttons', title: 'Buttons', setsUp: true },
      {
        to: '/links',
        title: 'Links',
        setsUp: true,
        waits: (h) => h.links.filter((l) => l.enabled && l.problems.length).length,
      },
      {
        to: '/mirrors',
        title: 'Mirrors',
        setsUp: true,
        waits: (h) => h.mirrors.filter((m) => m.enabled && m.problems.length).length,
      },
    ],
  },
  {
    title: 'Dashboards',
    parts: [
      { to: '/dashboards', title: 'Dashboards' },
      { to: '/hand', title: 'At hand' },
      { to: '/panels', title: 'Panels', setsUp: true },
    ],
  },
  {
    title: 'Record',
    parts: [
      { to: '/journal', title: 'Journal' },
      { to: '/history', title: 'History' },
    ],
  },
  {
    title: 'Household',
    parts: [
      { to: '/household', title: 'Modes' },
      { to: '/household/people', title: 'People', setsUp: true },
      { to: '/household/groups', title: 'Groups and variables', setsUp: true },
      { to: '/household/calendars', title: 'Calendars', setsUp: true },
      { to: '/household/messages', title: 'Messages', waits: (h) => h.notices.filter((n) => !n.seenAt).length },
    ],
  },
  {
    title: 'Bench',
    foot: true,
    parts: [{ to: '/bench', title: 'Bench', setsUp: true, there: (h) => !!h.about?.bench }],
  },
  {
    title: 'Hub',
    foot: true,
    parts: [
      { to: '/house', title: 'House', setsUp: true },
      { to: '/rooms', title: 'Rooms and floors', setsUp: true },
      { to: '/keys', title: 'Keys and programs', setsUp: true },
      { to: '/reach', title: 'On your network', setsUp: true },
      { to: '/removed', title: 'Recently removed', setsUp: true },
      { to: '/health', title: 'Health', setsUp: true, waits: (h) => h.needs.length },
    ],
  },
]

/** The parts of a place that this home has for somebody who sets it up, or who only operates it. */
export const partsOf = (home: Home, place: Place, setsUp: boolean) =>
  place.parts.filter((p) => (p.there?.(home) ?? true) && (setsUp || !p.setsUp))

/** The places in which there is any of them, with those parts. */
export const placesOf = (home: Home, setsUp: boolean): Place[] =>
  places.map((place) => ({ ...place, parts: partsOf(home, place, setsUp) })).filter((place) => place.parts.length > 0)

/** How much waits in a place for the owner. */
export const waitsIn = (home: Home, place: Place) => place.parts.reduce((sum, p) => sum + (p.waits?.(home) ?? 0), 0)

const within = (path: string, to: string) => path === to || path.startsWith(`${to}/`)

/** The part that an address belongs to: the one with the longest address of its own. */
export function partAt(path: string): Part | undefined {
  return places
    .flatMap((p) => p.parts)
    .filter((part) => within(path, part.to))
    .sort((a, b) => b.to.length - a.to.length)[0]
}

/** The place that an address belongs to. */
export function placeAt(path: string): Place | undefined {
  const part = partAt(path)
  return part && places.find((p) => p.parts.includes(part))
}
