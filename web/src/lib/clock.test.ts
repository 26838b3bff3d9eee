import { describe, expect, it } from 'vitest'
import { readClock, readDay, sayDay } from './clock'

describe('a time that is typed', () => {
  it.each([
    ['22:17', '22:17'],
    ['7', '07:00'],
    ['7:5', '07:05'],
    ['7.05', '07:05'],
    ['0705', '07:05'],
    [' 23 59 ', '23:59'],
    ['24:00', undefined],
    ['12:60', undefined],
    ['noon', undefined],
    ['', undefined],
  ])('%j is %j', (typed, want) => expect(readClock(typed)).toBe(want))
})

describe('a day that is typed', () => {
  it.each([
    ['28 Nov', '2026-11-28'],
    ['Nov 28', '2026-11-28'],
    ['November 28, 2025', '2025-11-28'],
    ['28.11.', '2026-11-28'],
    ['1. 12. 2026', '2026-12-01'],
    ['1 Dec', '2025-12-01'], // it has not come yet this year
    ['30 november', '2026-11-30'],
    ['2026-2-3', '2026-02-03'],
    ['today', '2026-11-30'],
    ['Yesterday', '2026-11-29'],
    ['29 Feb', undefined],
    ['29 Feb 2024', '2024-02-29'],
    ['31.4.', undefined],
    ['12 foo', undefined],
    ['soon', undefined],
    ['', undefined],
  ])('%j is %j', (typed, want) => expect(readDay(typed, '2026-11-30')).toBe(want))
  it('is said with its month', () => expect(sayDay('2026-02-03')).toBe('3 Feb 2026'))
})
