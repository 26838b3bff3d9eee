import type { Target } from '@/api/types'

/** Captured values with the fades of their own that lamps had before. */
export function withFades(captured: Target[], before: Target[]): Target[] {
  return captured.map((t) => {
    const had = before.find((x) => x.device === t.device && x.fadeSeconds !== undefined)
    return had ? { ...t, fadeSeconds: had.fadeSeconds } : t
  })
}

/** How long a lamp takes in a scene where it does not take as long as the scene. */
export const fadeOf = (targets: Target[], device: string): number | undefined =>
  targets.find((t) => t.device === device && t.fadeSeconds !== undefined)?.fadeSeconds

/** Values in which a lamp takes a time of its own, or as long as its scene again. */
export const withFade = (targets: Target[], device: string, seconds: number | undefined): Target[] =>
  targets.map((t) => (t.device === device ? { ...t, fadeSeconds: seconds } : t))
