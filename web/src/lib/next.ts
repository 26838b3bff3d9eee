import type { Calendar, Schedule } from '@/api/types'

/** Something that is planned: when, what, and where to read more. */
export interface Planned {
  at: string
  title: string
  from: string
  to: string
}

/** What comes next of schedules and calendars until a time, the soonest first. */
export function comingUp(schedules: Schedule[], calendars: Calendar[], now: number, until: number): Planned[] {
  const within = (at?: string) => !!at && Date.parse(at) >= now && Date.parse(at) < until
  return [
    ...schedules
      .filter((s) => s.enabled && within(s.state.next))
      .map((s) => ({ at: s.state.next!, title: s.title, from: '', to: `/schedules/${s.id}` })),
    ...calendars.flatMap((c) =>
      c.next
        .filter((e) => within(e.begin))
        .map((e) => ({ at: e.begin, title: e.title, from: c.title, to: '/household/calendars' })),
    ),
  ].sort((a, b) => Date.parse(a.at) - Date.parse(b.at))
}
