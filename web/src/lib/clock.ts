/** Reads a time of the day as people type it: 7, 7:5, 07:05, 705 and 7.05 are all a time. */
export function readClock(typed: string): string | undefined {
  const match = /^\s*(\d{1,2})(?:[:. h]?(\d{1,2}))?\s*$/.exec(typed)
  if (!match) return undefined
  const [hour, minute] = [Number(match[1]), Number(match[2] ?? 0)]
  if (hour > 23 || minute > 59) return undefined
  return `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`
}

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']
const DAY_MS = 86_400_000

/** Reads a day as people type it, as YYYY-MM-DD: 28 Nov, Nov 28, 28.11., 2026-11-28, today and yesterday. Without a year it is
 * the last such day until today, which is given in the same form. */
export function readDay(typed: string, today: string): string | undefined {
  const words = typed.trim().toLowerCase()
  if (words === 'today') return today
  if (words === 'yesterday') return new Date(Date.parse(today) - DAY_MS).toISOString().slice(0, 10)
  const whole = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(words)
  if (whole) return dayOf(Number(whole[1]), Number(whole[2]), Number(whole[3]))
  const dotted = /^(\d{1,2})\.\s*(\d{1,2})\.?(?:\s*(\d{4}))?$/.exec(words)
  const before = /^(\d{1,2})\.?\s+([a-z]{3})[a-z]*\.?,?(?:\s+(\d{4}))?$/.exec(words)
  const behind = /^([a-z]{3})[a-z]*\.?\s+(\d{1,2}),?(?:\s+(\d{4}))?$/.exec(words)
  const parts = dotted
    ? [dotted[1], Number(dotted[2]), dotted[3]]
    : before
      ? [before[1], MONTHS.indexOf(before[2]!) + 1, before[3]]
      : behind
        ? [behind[2], MONTHS.indexOf(behind[1]!) + 1, behind[3]]
        : undefined
  if (!parts) return undefined
  const [day, month, year] = parts.map(Number) as [number, number, number]
  if (year) return dayOf(year, month, day)
  const thisYear = Number(today.slice(0, 4))
  const found = dayOf(thisYear, month, day)
  return found && found > today ? dayOf(thisYear - 1, month, day) : found
}

/** A day as YYYY-MM-DD, where the calendar has it. */
function dayOf(year: number, month: number, day: number): string | undefined {
  const at = new Date(Date.UTC(year, month - 1, day))
  return at.getUTCMonth() === month - 1 && at.getUTCDate() === day ? at.toISOString().slice(0, 10) : undefined
}

/** "28 Nov 2026" */
export function sayDay(day: string): string {
  const [year, month, date] = day.split('-')
  const name = MONTHS[Number(month) - 1] ?? ''
  return `${Number(date)} ${name.charAt(0).toUpperCase()}${name.slice(1)} ${year}`
}
