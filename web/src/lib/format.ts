/** A duration as people say it: "3 min", "2 h 10", "40 s". */
export function duration(seconds: number): string {
  const s = Math.round(seconds)
  if (s < 60) return `${s} s`
  if (s < 3600) {
    const rest = s % 60
    return rest ? `${Math.floor(s / 60)} min ${rest} s` : `${s / 60} min`
  }
  const hours = Math.floor(s / 3600)
  const minutes = Math.round((s % 3600) / 60)
  return minutes ? `${hours} h ${minutes}` : `${hours} h`
}

/** How long something took, in ms: "70 ms", "1.2 s", "3 min"; nothing where it was at once. */
export function delay(ms: number): string {
  if (ms < 0.5) return ''
  if (ms < 1000) return `${Math.round(ms)} ms`
  return ms < 10_000 ? `${Number((ms / 1000).toFixed(1))} s` : duration(ms / 1000)
}

/** A running duration: "0:41". */
export function running(seconds: number): string {
  const s = Math.max(0, Math.round(seconds))
  const two = (n: number) => String(n).padStart(2, '0')
  return s < 3600
    ? `${Math.floor(s / 60)}:${two(s % 60)}`
    : `${Math.floor(s / 3600)}:${two(Math.floor((s % 3600) / 60))}:${two(s % 60)}`
}

const formats = new Map<string, Intl.DateTimeFormat>()

function format(zone: string, name: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${zone} ${name}`
  let f = formats.get(key)
  if (!f) {
    f = new Intl.DateTimeFormat('en-GB', { ...options, timeZone: zone, hourCycle: 'h23' })
    formats.set(key, f)
  }
  return f
}

const MINUTE = 60_000
/** So many minutes are remembered as they were said. */
const REMEMBERED = 1000

/** Times in the home's zone, whatever the browser's is. */
export class Times {
  constructor(readonly zone: string) {}

  /** What was said of a minute: the same is asked for again and again while values change, and saying it is dear. */
  private readonly said = new Map<string, string>()
  private once(at: string | number, how: string, say: (at: Date) => string): string {
    const ms = typeof at === 'number' ? at : Date.parse(at)
    const key = `${how}${Math.floor(ms / MINUTE)}`
    let text = this.said.get(key)
    if (text === undefined) {
      if (this.said.size >= REMEMBERED) this.said.clear()
      text = say(new Date(ms))
      this.said.set(key, text)
    }
    return text
  }

  /** "22:14" */
  clock(at: string | number): string {
    return this.once(at, 'clock', (date) =>
      format(this.zone, 'clock', { hour: '2-digit', minute: '2-digit' }).format(date),
    )
  }

  /** "22:14:08" */
  exact(at: string | number): string {
    return format(this.zone, 'exact', { hour: '2-digit', minute: '2-digit', second: '2-digit' }).format(new Date(at))
  }

  /** "Tue 24 Nov" */
  date(at: string | number): string {
    return this.once(at, 'date', (date) =>
      format(this.zone, 'date', { weekday: 'short', day: 'numeric', month: 'short' }).format(date).replace(',', ''),
    )
  }

  /** "2026-11-24" */
  isoDay(at: string | number): string {
    const parts = format(this.zone, 'iso', { year: 'numeric', month: '2-digit', day: '2-digit' }).formatToParts(
      new Date(at),
    )
    const of = (type: string) => parts.find((p) => p.type === type)?.value ?? ''
    return `${of('year')}-${of('month')}-${of('day')}`
  }

  /** "24 Nov", and "Jan 2026" where a month begins a year. */
  day(at: string | number): string {
    const said = format(this.zone, 'day', { day: 'numeric', month: 'short' }).format(new Date(at))
    return said === '1 Jan' ? format(this.zone, 'year', { month: 'short', year: 'numeric' }).format(new Date(at)) : said
  }

  /** "22:14" today, "Mon 22:14" within a week, "3 Nov 22:14" before. */
  since(at: string | number, now: number): string {
    return this.on(at, now, this.clock(at))
  }

  /** As since, to the second where it was today. */
  moment(at: string | number, now: number): string {
    return this.on(at, now, this.date(at) === this.date(now) ? this.exact(at) : this.clock(at))
  }

  private on(at: string | number, now: number, clock: string): string {
    if (this.date(at) === this.date(now)) return clock
    const days = (now - new Date(at).getTime()) / 86_400_000
    const [weekday, ...date] = this.date(at).split(' ')
    return days < 6 && days > -6 ? `${weekday} ${clock}` : `${date.join(' ')} ${clock}`
  }
}
