import { describe, expect, it } from 'vitest'
import { aligned, below, freePlace, moved, resized, settled, type Placed } from './arranging'

const at = (id: string, column: number, row: number, width: number, height: number): Placed => ({
  id,
  column,
  row,
  width,
  height,
})
const chosen = (...ids: string[]) => new Set(ids)

describe('arranging controls', () => {
  it('moves several together, and no further than to the edges', () => {
    const all = [at('a', 0, 0, 4, 2), at('b', 4, 0, 4, 2), at('c', 0, 6, 4, 2)]
    expect(moved(all, chosen('a', 'b'), { columns: 30, rows: 1 }, 24)).toEqual([
      at('a', 16, 1, 4, 2),
      at('b', 20, 1, 4, 2),
      at('c', 0, 6, 4, 2),
    ])
    expect(moved(all, chosen('b'), { columns: -9, rows: -9 }, 24)[1]).toEqual(at('b', 0, 0, 4, 2))
  })
  it('has what is covered go down until it is free, and what that covers in its turn', () => {
    const all = [at('a', 0, 0, 4, 2), at('b', 0, 2, 4, 2), at('c', 0, 4, 4, 2), at('d', 8, 2, 4, 2)]
    expect(moved(all, chosen('a'), { columns: 0, rows: 1 }, 24)).toEqual([
      at('a', 0, 1, 4, 2),
      at('b', 0, 3, 4, 2),
      at('c', 0, 5, 4, 2),
      at('d', 8, 2, 4, 2),
    ])
  })
  it('sizes from one cell to the edge', () => {
    const all = [at('a', 20, 0, 2, 2), at('b', 20, 2, 4, 2)]
    expect(resized(all, chosen('a'), { columns: 9, rows: 1 }, 24)).toEqual([at('a', 20, 0, 4, 3), at('b', 20, 3, 4, 2)])
    expect(resized(all, chosen('a'), { columns: -9, rows: -9 }, 24)[0]).toEqual(at('a', 20, 0, 1, 1))
  })
  it('lines up what was chosen without laying one over the other', () => {
    const all = [at('a', 0, 0, 4, 2), at('b', 6, 1, 6, 3), at('c', 14, 0, 2, 2)]
    expect(aligned(all, chosen('a', 'b'), 'left', 24)).toEqual([at('a', 0, 0, 4, 2), at('b', 0, 2, 6, 3), all[2]])
    expect(aligned(all, chosen('a', 'b'), 'top', 24)[1]).toEqual(at('b', 6, 0, 6, 3))
    expect(aligned(all, chosen('a', 'b'), 'bottom', 24)[0]).toEqual(at('a', 0, 2, 4, 2))
    expect(aligned(all, chosen('a', 'b'), 'right', 24)[0]).toEqual(at('a', 8, 0, 4, 2))
    expect(aligned(all, chosen('a', 'b'), 'width', 24)[1]).toEqual(at('b', 6, 1, 4, 3))
    expect(aligned(all, chosen('a', 'b'), 'height', 24)[1]).toEqual(at('b', 6, 1, 6, 2))
    expect(aligned(all, chosen('a'), 'left', 24)).toBe(all)
  })
  it('never leaves one over another', () => {
    let seed = 7
    const next = (most: number) => (seed = (seed * 48271) % 2147483647) % most
    for (let round = 0; round < 200; round++) {
      const all = Array.from({ length: 12 }, (_, i) => at(String(i), next(20), next(20), 1 + next(4), 1 + next(4)))
      const touched = chosen('0')
      const lying = settled(all, touched)
      expect(lying[0]).toEqual(all[0])
      for (const a of lying)
        for (const b of lying)
          if (a.id < b.id)
            expect(
              a.column + a.width <= b.column ||
                b.column + b.width <= a.column ||
                a.row + a.height <= b.row ||
                b.row + b.height <= a.row,
            ).toBe(true)
    }
  })
  it('finds the first free place, and the row below all', () => {
    const all = [at('a', 0, 0, 20, 2), at('b', 0, 2, 24, 1)]
    expect(freePlace(all, { width: 4, height: 2 }, 24)).toEqual({ column: 20, row: 0, width: 4, height: 2 })
    expect(freePlace(all, { width: 6, height: 2 }, 24)).toEqual({ column: 0, row: 3, width: 6, height: 2 })
    expect(freePlace([], { width: 30, height: 2 }, 12).width).toBe(12)
    expect(below(all)).toBe(3)
    expect(below([])).toBe(0)
  })
})
