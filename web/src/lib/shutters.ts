import type { PropertyState } from '@/api/types'

/** Where a shutter stands. One that finds its place by itself says so; else the hub computes it. */
export const shutterOf = (state: PropertyState | undefined) =>
  state?.shutter ?? {
    place: typeof state?.value === 'number' ? state.value : 0,
    known: typeof state?.value === 'number',
    travel: true,
    moving: undefined,
  }

/** Where a shutter was sent, while it is not there yet. */
export const goalOf = (state: PropertyState | undefined): number | undefined =>
  state?.certainty === 'pending' && typeof state.target === 'number' ? state.target : undefined
