import { expect, test } from 'vitest'
import { nearest, placeOn, ticks } from './scale'

test('a value has its place, and stays within the scale', () => {
  expect(placeOn(50, 0, 100, 10, 110)).toBe(60)
  expect(placeOn(-5, 0, 100, 10, 110)).toBe(10)
  expect(placeOn(500, 0, 100, 10, 110)).toBe(110)
  expect(placeOn(2, 5, 5, 10, 110)).toBe(10)
})

test('a value is taken by steps from the minimum, and stays within the scale', () => {
  expect(nearest(37.4, 0, 100, 1)).toBe(37)
  expect(nearest(2733, 2203, 6536, 50)).toBe(2753)
  expect(nearest(0.30000000000000004, 0, 1, 0.1)).toBe(0.3)
  expect(nearest(120, 0, 100, 7)).toBe(100)
  expect(nearest(3.14159, 0, 10, 0)).toBe(3.14159)
})

test('the graduation is of round values, with both ends', () => {
  expect(ticks(0, 100).map((t) => t.value)).toEqual([0, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100])
  expect(
    ticks(0, 100)
      .filter((t) => t.large)
      .map((t) => t.value),
  ).toEqual([0, 50, 100])
  const white = ticks(2203, 6536)
  expect([white[0]!.value, white.at(-1)!.value]).toEqual([2203, 6536])
  expect(white.slice(1, -1).every((t) => t.value % 500 === 0)).toBe(true)
  expect(ticks(5, 35).map((t) => t.value)).toEqual([5, 10, 15, 20, 25, 30, 35])
  expect(ticks(1, 1)).toEqual([])
})
