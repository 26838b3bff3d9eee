import type { PropertyState, Value } from '@/api/types'

/** So long after the hub took it, in ms, what the hub says counts, whatever was asked for. */
export const HEARD_WITHIN = 1000

const FULL = 100

interface Asked {
  /** What the hub had said. */
  certainty: PropertyState['certainty']
  target?: Value
  lastOn?: number
  /** Which of all that was asked for this is. */
  turn: number
}

/**
 * What this browser asked for and has not heard of yet: shown as asked for at once, before the hub has answered. What the hub
 * says of the same property next, or that it refused, ends it.
 */
export class AskedFor {
  private readonly all = new Map<string, Asked>()
  private turns = 0

  /** A state as it is shown once a value was asked for. */
  ask(key: string, state: PropertyState, value: Value): PropertyState {
    const { certainty, target, lastOn } = this.all.get(key) ?? state
    this.all.set(key, { certainty, target, lastOn, turn: ++this.turns })
    const wanted = state.certainty === 'pending' ? state.target : state.value
    // What was on comes on again with what it was asked for last, also before the hub has remembered it.
    const goesOff = value === 0 && typeof wanted === 'number' && wanted > 0
    // Switched on without a level, it is drawn at what it was last on with until the hub says where it comes on.
    const asked = value === true && typeof wanted === 'number' ? (state.lastOn ?? FULL) : value
    return { ...state, certainty: 'pending', target: asked, lastOn: goesOff ? wanted : state.lastOn }
  }
  /** Which was asked for last. */
  turn(key: string): number | undefined {
    return this.all.get(key)?.turn
  }
  /** A state as the hub said it is. */
  told(key: string, state: PropertyState): PropertyState {
    const asked = this.all.get(key)
    this.all.delete(key)
    return asked ? { ...state, certainty: asked.certainty, target: asked.target, lastOn: asked.lastOn } : state
  }
  clear() {
    this.all.clear()
  }
}
