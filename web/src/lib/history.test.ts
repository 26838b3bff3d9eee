import { expect, test } from 'vitest'
import type { Device, Series } from '@/api/types'
import { bands, columns, likelyTogether, pan, shareWords, stayMarks, zoom } from './history'

const at = (hours: number) => new Date(hours * 3_600_000).toISOString()
const readings = (...values: [number, number][]): Series => ({
  device: 'd',
  property: 'p',
  spanSeconds: 0,
  points: values.map(([h, value]) => ({ at: at(h), value, least: value, most: value })),
})

test('zooming keeps the moment that is pointed at where it is', () => {
  const near = zoom({ from: 0, to: 1000_000 }, 0.5, 250_000)
  expect(near).toEqual({ from: 125_000, to: 625_000 })
  expect(zoom({ from: 0, to: 120_000 }, 0.001).to - zoom({ from: 0, to: 120_000 }, 0.001).from).toBe(60_000)
  expect(pan({ from: 0, to: 100 }, -0.5)).toEqual({ from: -50, to: 50 })
})

test('a reading counts until the next, or to the end', () => {
  const c = columns(readings([0, 5], [1, 7]), 20 * 3_600_000)
  expect(c.x).toEqual([0, 3600, 20 * 3600])
  expect(c.y).toEqual([5, 7, 7])
})

test('where nothing was heard, nothing is drawn', () => {
  const series: Series = {
    device: 'd',
    property: 'p',
    spanSeconds: 3600,
    points: [
      { at: at(0), value: 5, least: 4, most: 6 },
      { at: at(10), value: 8, least: 7, most: 9 },
    ],
  }
  const c = columns(series, 12 * 3_600_000)
  expect(c.y).toEqual([5, null, 8])
  expect(c.least).toEqual([4, null, 7])
})

test('states become bands, and those that follow each other one', () => {
  const on = readings([0, 0], [1, 1], [2, 1], [3, 0], [5, 1])
  expect(bands(on, 6 * 3_600_000)).toEqual([
    { from: 3_600_000, to: 10_800_000, share: 1 },
    { from: 18_000_000, to: 21_600_000, share: 1 },
  ])
})

test('where the device was silent, nothing is drawn and no state lasts', () => {
  const series: Series = { ...readings([0, 1], [5, 1]), gaps: [{ from: at(2), to: at(5) }] }
  const c = columns(series, 8 * 3_600_000)
  expect(c.y).toEqual([1, 1, null, 1, 1])
  expect(c.x[1]).toBe(2 * 3600)
  expect(bands(series, 8 * 3_600_000).map((b) => [b.from / 3_600_000, b.to / 3_600_000])).toEqual([
    [0, 2],
    [5, 8],
  ])
  const still: Series = { ...readings([0, 1]), gaps: [{ from: at(2), to: at(9) }] }
  expect(columns(still, 9 * 3_600_000).y).toEqual([1, 1, null])
})

test('what is in words is stretches of what is shown, and shares of it', () => {
  const stay = (from: number, to: number, text: string) => ({ from: at(from), to: at(to), text, value: text })
  const series: Series = {
    device: 'own',
    property: 'mode',
    spanSeconds: 0,
    points: [],
    stays: [stay(0, 6, 'In'), stay(6, 10, 'Out'), stay(20, 24, 'Asleep')],
    shares: [
      { text: 'In', seconds: 300 },
      { text: 'Out', seconds: 100 },
    ],
  }
  const marks = stayMarks(series, { from: 5 * 3_600_000, to: 10 * 3_600_000 })
  expect(marks.map((m) => [m.text, m.left, m.width])).toEqual([
    ['In', 0, 20],
    ['Out', 20, 80],
  ])
  const known = series.shares!.reduce((sum, s) => sum + s.seconds, 0)
  expect(shareWords(series, known)).toBe('In 75 %, Out 25 %')
  expect(shareWords(series, known * 2)).toBe('In 75 %, Out 25 % of the known time')
  expect(shareWords(series, known, 1)).toBe('In 75 %, …')
  expect(shareWords({ ...series, shares: [] }, known)).toBe('–')
})

test('what is likely to be looked at together is of one kind, as many as are shown, and only what there is', () => {
  const device = (id: string, ...roles: string[]) =>
    ({
      id,
      states: [],
      description: { properties: roles.map((role) => ({ name: role, title: role, role })) },
    }) as unknown as Device
  const list = likelyTogether([device('a', 'temperature', 'battery'), device('b', 'contact', 'temperature')], 1)
  expect(list).toEqual([
    { title: 'Temperatures', series: ['a~temperature'] },
    { title: 'What was open', series: ['b~contact'] },
  ])
})
