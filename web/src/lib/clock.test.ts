import { describe, expect, it } from 'vitest'
import { readClock } from './clock'

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
