import type { PropertyState } from '@/api/types'

/** How sure it is what something is at; drawn by the shape of its edge, never by color alone. */
export type Certainty = 'confirmed' | 'pending' | 'assumed' | 'silent' | 'failed' | 'unknown'

/** How sure a value is, given whether its device can be heard. */
export function certaintyOf(state: PropertyState | undefined, silent = false): Certainty {
  if (!state || state.certainty === 'unknown') return 'unknown'
  if (state.certainty === 'failed' || state.certainty === 'pending') return state.certainty
  return silent ? 'silent' : state.certainty
}

export const certaintyWords: Record<Certainty, string> = {
  confirmed: '',
  pending: 'asked for, not yet confirmed',
  assumed: 'assumed',
  silent: 'stale, it cannot be reached',
  failed: 'failed',
  unknown: 'not heard from yet',
}

/** Who has a value: a hand, a rule or scene that holds it, or nobody in particular. */
export type Held = 'hand' | 'automation' | ''

/** Who holds a value. */
export function heldBy(state: PropertyState | undefined): Held {
  const top = state?.holders.find((h) => h.inEffect)
  if (!top || top.level === 0) return ''
  return top.byHand ? 'hand' : 'automation'
}
