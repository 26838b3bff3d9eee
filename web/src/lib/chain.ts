import type { Entry } from '@/api/types'

/** How a column beside an entry is drawn: nothing, a line that goes by, one that turns to the entry and goes on, one that ends there. */
export type Rail = 'none' | 'by' | 'turn' | 'end'

export interface ChainLine extends Entry {
  /** The columns left of the entry, the outermost first; the last leads to it. */
  rails: Rail[]
  /** Whether anything follows from it. */
  down: boolean
  /** In ms, from what it follows from, and from where all began. */
  after: number
  since: number
  /** From 0 to 1, how long the bar of its delay is: each tenfold is as much longer. */
  share: number
}

const MOST = 8
/** A delay of this many ms fills the bar: about a day. */
const WHOLE = 86_400_000

/** Lays a chain out as a tree, in the order of time. */
export function layChain(chain: Entry[]): ChainLine[] {
  const at = new Map(chain.map((e) => [e.id, new Date(e.at).getTime()]))
  const parent = (e: Entry) => (e.parent !== undefined && at.has(e.parent) ? e.parent : undefined)
  const depth = new Map<number, number>()
  const column = new Map<number, number>()
  chain.forEach((e) => {
    const above = parent(e)
    const d = above === undefined ? 0 : depth.get(above)! + 1
    depth.set(e.id, d)
    column.set(e.id, Math.min(d, MOST))
  })
  // Where the last child of each entry stands, so that its line ends there.
  const last = new Map<number, number>()
  chain.forEach((e, i) => {
    const above = parent(e)
    if (above !== undefined) last.set(above, i)
  })
  return chain.map((e, i) => {
    const own = column.get(e.id)!
    const rails: Rail[] = Array.from({ length: own }, () => 'none')
    chain.slice(0, i).forEach((p) => {
      const c = column.get(p.id)!
      const end = last.get(p.id)
      if (c >= own || end === undefined || end < i) return
      if (parent(e) === p.id) rails[c] = end === i ? 'end' : 'turn'
      else if (rails[c] === 'none') rails[c] = 'by'
    })
    const above = parent(e)
    const after = above === undefined ? 0 : at.get(e.id)! - at.get(above)!
    const since = at.get(e.id)! - at.get(chain[0]!.id)!
    return {
      ...e,
      rails,
      down: last.has(e.id),
      after,
      since,
      share: Math.min(1, Math.log10(1 + after) / Math.log10(1 + WHOLE)),
    }
  })
}
