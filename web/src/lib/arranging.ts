import type { Place } from '@/api/types'

/** Where something lies that has an id. */
export interface Placed extends Place {
  id: string
}

/** How a set of chosen controls is lined up. */
export type Alignment = 'left' | 'right' | 'top' | 'bottom' | 'width' | 'height'

const HIGHEST = 40
const LAST_ROW = 800

const over = (a: Place, b: Place) =>
  a.column < b.column + b.width && b.column < a.column + a.width && a.row < b.row + b.height && b.row < a.row + a.height

/** How far some controls can go together: no further than to the edges. */
export function within(all: Placed[], ids: Set<string>, by: { columns: number; rows: number }, columns: number) {
  const chosen = all.filter((p) => ids.has(p.id))
  const left = Math.min(...chosen.map((p) => p.column))
  const right = Math.max(...chosen.map((p) => p.column + p.width))
  const top = Math.min(...chosen.map((p) => p.row))
  return {
    columns: Math.min(columns - right, Math.max(-left, by.columns)),
    rows: Math.min(LAST_ROW - top, Math.max(-top, by.rows)),
  }
}

/** Has what was not touched make room: whatever is covered goes down until it is free. */
export function settled(all: Placed[], touched: Set<string>): Placed[] {
  const fixed = all.filter((p) => touched.has(p.id))
  const lying: Placed[] = [...fixed]
  const others = all.filter((p) => !touched.has(p.id)).sort((a, b) => a.row - b.row || a.column - b.column)
  for (const other of others) {
    let place = other
    for (;;) {
      const covers = lying.filter((p) => over(p, place))
      if (!covers.length) break
      place = { ...place, row: Math.max(...covers.map((p) => p.row + p.height)) }
    }
    lying.push(place)
  }
  const byID = new Map(lying.map((p) => [p.id, p]))
  return all.map((p) => byID.get(p.id)!)
}

/** The controls after some of them were moved. */
export function moved(
  all: Placed[],
  ids: Set<string>,
  by: { columns: number; rows: number },
  columns: number,
): Placed[] {
  const way = within(all, ids, by, columns)
  const next = all.map((p) => (ids.has(p.id) ? { ...p, column: p.column + way.columns, row: p.row + way.rows } : p))
  return settled(next, ids)
}

/** The controls after some of them were made larger or smaller, each by the same. */
export function resized(
  all: Placed[],
  ids: Set<string>,
  by: { columns: number; rows: number },
  columns: number,
): Placed[] {
  const next = all.map((p) =>
    ids.has(p.id)
      ? {
          ...p,
          width: Math.min(columns - p.column, Math.max(1, p.width + by.columns)),
          height: Math.min(HIGHEST, Math.max(1, p.height + by.rows)),
        }
      : p,
  )
  return settled(next, ids)
}

/** The controls after those that were chosen were lined up with the first of them. */
export function aligned(all: Placed[], ids: Set<string>, how: Alignment, columns: number): Placed[] {
  const chosen = all.filter((p) => ids.has(p.id))
  if (chosen.length < 2) return all
  const left = Math.min(...chosen.map((p) => p.column))
  const right = Math.max(...chosen.map((p) => p.column + p.width))
  const top = Math.min(...chosen.map((p) => p.row))
  const bottom = Math.max(...chosen.map((p) => p.row + p.height))
  const { width, height } = chosen[0]!
  const to: Record<Alignment, (p: Placed) => Partial<Placed>> = {
    left: () => ({ column: left }),
    right: (p) => ({ column: right - p.width }),
    top: () => ({ row: top }),
    bottom: (p) => ({ row: bottom - p.height }),
    width: (p) => ({ width: Math.min(width, columns - p.column) }),
    height: () => ({ height }),
  }
  const next = all.map((p) => (ids.has(p.id) ? { ...p, ...to[how](p) } : p))
  return apart(next, ids)
}

/** Settles also those that were touched where they cover each other: the ones further down give way. */
function apart(all: Placed[], ids: Set<string>): Placed[] {
  const chosen = all.filter((p) => ids.has(p.id)).sort((a, b) => a.row - b.row || a.column - b.column)
  const lying = settled(chosen, new Set([chosen[0]!.id]))
  const byID = new Map(lying.map((p) => [p.id, p]))
  return settled(
    all.map((p) => byID.get(p.id) ?? p),
    ids,
  )
}

/** The first free place from the top, row by row. */
export function freePlace(all: Place[], size: { width: number; height: number }, columns: number): Place {
  const width = Math.min(size.width, columns)
  for (let row = 0; ; row++)
    for (let column = 0; column + width <= columns; column++) {
      const place = { column, row, width, height: size.height }
      if (!all.some((p) => over(p, place))) return place
    }
}

/** The row below all that lies. */
export const below = (all: Place[]) => Math.max(0, ...all.map((p) => p.row + p.height))
