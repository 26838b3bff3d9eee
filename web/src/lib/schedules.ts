import type { Daily } from '@/api/types'
import { duration } from './format'

/** 0 is Sunday, as in the hub; the week is shown from Monday. */
export const weekdays = [
  { day: 1, title: 'Mon' },
  { day: 2, title: 'Tue' },
  { day: 3, title: 'Wed' },
  { day: 4, title: 'Thu' },
  { day: 5, title: 'Fri' },
  { day: 6, title: 'Sat' },
  { day: 0, title: 'Sun' },
]

/** "Mon, Tue at 07:30", "daily 15 min before sunset". */
export function timeWords(at: Daily): string {
  const days =
    at.weekdays?.length && at.weekdays.length < 7
      ? weekdays
          .filter((w) => at.weekdays!.includes(w.day))
          .map((w) => w.title)
          .join(', ')
      : 'daily'
  if (at.anchor === 'clock') return `${days} at ${at.clock}`
  const offset = at.offsetMinutes ?? 0
  if (!offset) return `${days} at ${at.anchor}`
  return `${days} ${duration(Math.abs(offset) * 60)} ${offset < 0 ? 'before' : 'after'} ${at.anchor}`
}
