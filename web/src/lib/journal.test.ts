import { describe, expect, it } from 'vitest'
import type { Entry } from '@/api/types'
import { groupByCause, pieces } from './journal'

const entry = (id: number, second: number, parent?: number): Entry => ({
  id,
  parent,
  at: new Date(Date.UTC(2026, 10, 28, 21, 0, second)).toISOString(),
  kind: 'reported',
  text: `entry ${id}`,
  tone: 'plain',
})

describe('the journal', () => {
  it('sets names apart, the longer of two that begin alike', () => {
    expect(pieces('Rule Stair light began: Stair', ['Stair', 'Stair light'])).toEqual([
      { text: 'Rule ', name: false },
      { text: 'Stair light', name: true },
      { text: ' began: ', name: false },
      { text: 'Stair', name: true },
    ])
    expect(pieces('Stair')).toEqual([{ text: 'Stair', name: false }])
    expect(pieces('')).toEqual([])
  })
  it('groups what follows from one cause, in the order of time; the newest cause comes first', () => {
    const groups = groupByCause([entry(5, 9), entry(4, 4, 2), entry(3, 3), entry(2, 2, 1), entry(1, 1)])
    expect(groups.map((g) => [g.root.id, g.followers.map((f) => [f.entry.id, f.depth])])).toEqual([
      [5, []],
      [3, []],
      [
        1,
        [
          [2, 1],
          [4, 2],
        ],
      ],
    ])
  })
  it('lists what comes much later, or of which the cause is not there, by itself', () => {
    const groups = groupByCause([entry(4, 200, 3), entry(3, 62, 1), entry(2, 3, 99), entry(1, 1)])
    expect(groups.map((g) => g.root.id)).toEqual([4, 3, 2, 1])
  })
})
