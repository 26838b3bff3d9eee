import type { Effect } from '@/api/types'
import type { Choice } from './choice'

/** The ways in which light moves: what each is called, what it is like, and what can be set of it. */
type EffectKind = Effect['kind']
interface EffectTraits {
  title: string
  note: string
  /** Whether how fast it is is said by how long a round takes; else in percent. */
  round?: string
  travels: boolean
  flashes?: boolean
}
export const effectTraits: Record<EffectKind, EffectTraits> = {
  drift: {
    title: 'drift around colors',
    note: 'slowly from one color to the next, and around',
    round: 'A round',
    travels: true,
  },
  candle: { title: 'candle', note: 'mostly calm, now and then a breath of air', travels: true, flashes: true },
  embers: { title: 'embers', note: 'each glows up and fades in its time', travels: true, flashes: true },
  storm: { title: 'storm', note: 'dark and restless, with lightning', travels: false, flashes: true },
  pulse: { title: 'pulse', note: 'swells and ebbs', round: 'A pulse', travels: true, flashes: true },
  sunrise: { title: 'sunrise', note: 'from the first red to daylight, once', round: 'The whole', travels: false },
}
export const effectChoices: Choice<EffectKind>[] = (Object.keys(effectTraits) as EffectKind[]).map((value) => ({
  value,
  title: effectTraits[value].title,
  note: effectTraits[value].note,
}))

export const travelChoices: Choice<NonNullable<Effect['travel']>>[] = [
  { value: 'together', title: 'all together' },
  { value: 'onward', title: 'onward from lamp to lamp' },
  { value: 'chance', title: 'each by itself' },
]
