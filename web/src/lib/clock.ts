/** Reads a time of the day as people type it: 7, 7:5, 07:05, 705 and 7.05 are all a time. */
export function readClock(typed: string): string | undefined {
  const match = /^\s*(\d{1,2})(?:[:. h]?(\d{1,2}))?\s*$/.exec(typed)
  if (!match) return undefined
  const [hour, minute] = [Number(match[1]), Number(match[2] ?? 0)]
  if (hour > 23 || minute > 59) return undefined
  return `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`
}
