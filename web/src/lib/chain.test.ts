import { describe, expect, it } from 'vitest'
import type { Entry } from '@/api/types'
import { layChain } from './chain'

const entry = (id: number, parent: number | undefined, seconds: number) =>
  ({ id, parent, at: new Date(Date.UTC(2026, 10, 24, 20) + seconds * 1000).toISOString(), text: String(id) }) as Entry

describe('a chain', () => {
  it('is a tree: each line goes by what lies between, and ends at the last that follows', () => {
    const lines = layChain([
      entry(1, undefined, 0),
      entry(2, 1, 0.02),
      entry(3, 2, 0.02),
      entry(4, 3, 0.05),
      entry(5, 2, 60),
    ])
    expect(lines.map((l) => l.rails)).toEqual([[], ['end'], ['none', 'turn'], ['none', 'by', 'end'], ['none', 'end']])
    expect(lines.map((l) => l.after)).toEqual([0, 20, 0, 30, 59_980])
    expect(lines[4]!.since).toBe(60_000)
    expect(lines[4]!.share).toBeGreaterThan(lines[3]!.share)
  })
  it('begins anew where what it follows from is no longer kept', () => {
    expect(layChain([entry(7, 3, 0), entry(8, 7, 1)]).map((l) => l.rails)).toEqual([[], ['end']])
    expect(layChain([])).toEqual([])
  })
})
