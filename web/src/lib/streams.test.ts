import { describe, expect, it } from 'vitest'
import type { Sample } from '@/api/types'
import { delay, extent, joined, placed, rate, stepLine, ticks, visible } from './streams'

const START = Date.parse('2026-11-14T19:00:00Z')
const sample = (number: number, ms: number, value: number, more: Partial<Sample> = {}): Sample => ({
  number,
  at: new Date(START + ms).toISOString(),
  place: 'source',
  index: 0,
  value,
  ...more,
})
const three = [sample(1, 0, 10), sample(2, 500, 20), sample(3, 1000, 30)]
const span = { from: START, to: START + 1000 }

describe('what went through a link', () => {
  it('is joined with what came since, each once, and no more than are kept', () => {
    expect(joined(three, [sample(3, 1000, 30), sample(4, 1100, 40)], 10).map((s) => s.number)).toEqual([1, 2, 3, 4])
    expect(joined(three, [sample(4, 1100, 40)], 2).map((s) => s.number)).toEqual([3, 4])
    expect(joined(three, [sample(2, 500, 20)], 10)).toBe(three)
  })

  it('is drawn where it is in a span, with the value from which the line comes', () => {
    expect(visible(three, { from: START + 400, to: START + 900 }).map((s) => s.value)).toEqual([10, 20])
    expect(visible(three, { from: START + 2000, to: START + 3000 }).map((s) => s.value)).toEqual([30])
    expect(visible([], span)).toEqual([])
    const frame = { span, extent: [10, 30] as [number, number], width: 100, height: 40 }
    expect(stepLine(three, frame)).toBe('M0,40H50V20H100V0H100')
    expect(stepLine([], frame)).toBe('')
    expect(ticks(three, frame)).toBe('M0,35v10M50,15v10M100,-5v10')
  })

  it('has an extent that is never nothing', () => {
    expect(extent(three)).toEqual([10, 30])
    expect(extent(three, [0, 100])).toEqual([0, 100])
    expect(extent([sample(1, 0, 5)])).toEqual([4, 6])
    expect(extent([])).toEqual([0, 1])
  })

  it('has a rate, a place and a delay', () => {
    expect(rate(three, START + 1000)).toBe(1.5)
    expect(rate(three, START + 9000)).toBe(0)
    const seen = [sample(1, 0, 1, { place: 'stage', index: 1 }), sample(2, 0, 2, { place: 'stage' })]
    expect(placed(seen, 'stage', 1).map((s) => s.value)).toEqual([1])
    expect(
      delay([sample(1, 0, 1, { milliseconds: 40.4 }), sample(2, 0, 1, { milliseconds: 20 }), sample(3, 0, 1)]),
    ).toBe(40)
    expect(delay([])).toBeUndefined()
  })
})
