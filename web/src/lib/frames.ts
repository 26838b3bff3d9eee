/** So long after, in ms, something is done though no picture was drawn: the page may be out of sight. */
const AT_LATEST = 100

/**
 * Returns a function that has something done once before the next picture is drawn, however often it is called until then: a
 * browser that is behind draws less often, and not everything late.
 */
export function oncePerFrame(act: (at: number) => void): () => void {
  let waiting = false
  return () => {
    if (waiting) return
    waiting = true
    const go = () => {
      if (!waiting) return
      waiting = false
      cancelAnimationFrame(frame)
      clearTimeout(limit)
      act(performance.now())
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

/** So long after the one before, in ms, a picture came late: drawing the one before took too long. */
const LATE = 20
/** So much later, in ms, nothing was to be drawn meanwhile. */
const PAUSED = 80
/** How many more are drawn with each picture that was in time, and which share of them after a late one. */
const MORE = 0.25
const LESS = 0.6

/** How many changes are drawn before one picture, by how long those before took, and whether it was in time. */
export class Pace {
  atMost = FIRST
  private drawable = MOST
  private last = 0

  /** Takes that a picture is about to be drawn, at a time in ms. */
  picture(at: number) {
    const gap = at - this.last
    this.last = at
    if (gap > PAUSED) return
    if (gap > LATE) this.drawable = Math.max(LEAST, Math.min(this.drawable, this.atMost) * LESS)
    else this.drawable = Math.min(MOST, this.drawable + MORE)
    this.atMost = Math.max(LEAST, Math.floor(Math.min(this.atMost, this.drawable)))
  }

  /** Takes that so many changes took so long, in ms. */
  took(changes: number, ms: number) {
    if (changes < this.atMost && ms < BUDGET) return // too few to tell how many more would fit
    const fitting = ms > 0 ? (changes * BUDGET) / ms : MOST
    this.atMost = Math.floor(Math.min(MOST, Math.max(LEAST, Math.min(fitting, this.atMost * 2, this.drawable))))
  }
}
