/** So long after, in ms, something is done though no picture was drawn: the page may be out of sight. */
const AT_LATEST = 100

/**
 * Returns a function that has something done once before the next picture is drawn, however often it is called until then: a
 * browser that is behind draws less often, and not everything late.
 */
export function oncePerFrame(act: () => void): () => void {
  let waiting = false
  return () => {
    if (waiting) return
    waiting = true
    const go = () => {
      if (!waiting) return
      waiting = false
      cancelAnimationFrame(frame)
      clearTimeout(limit)
      act()
    }
    const frame = requestAnimationFrame(go)
    const limit = setTimeout(go, AT_LATEST)
  }
}

/** How long, in ms, what changed may take to be drawn before a picture: what does not fit waits for the next one. */
const BUDGET = 6
const FIRST = 16
const LEAST = 4
const MOST = 10_000

/** How many changes are drawn before one picture, by how long those before took. */
export class Pace {
  atMost = FIRST

  /** Takes that so many changes took so long, in ms. */
  took(changes: number, ms: number) {
    if (changes < this.atMost && ms < BUDGET) return // too few to tell how many more would fit
    const fitting = ms > 0 ? (changes * BUDGET) / ms : MOST
    this.atMost = Math.round(Math.min(MOST, Math.max(LEAST, Math.min(fitting, this.atMost * 2))))
  }
}
