import { describe, expect, it, test } from 'vitest'
import { delay, duration, running, Times } from './format'

describe('durations', () => {
  it.each([
    [40, '40 s'],
    [180, '3 min'],
    [90, '1 min 30 s'],
    [7800, '2 h 10'],
    [7200, '2 h'],
  ])('%d s is said as %s', (seconds, said) => expect(duration(seconds)).toBe(said))

  it('runs in minutes and seconds, and never below zero', () => {
    expect(running(41)).toBe('0:41')
    expect(running(3661)).toBe('1:01:01')
    expect(running(-3)).toBe('0:00')
  })
})

describe('times', () => {
  const times = new Times('Europe/London')
  const now = new Date('2026-07-06T12:00:00Z').getTime()

  it('are shown in the home zone', () => {
    expect(times.clock('2026-07-06T12:00:00Z')).toBe('13:00')
    expect(times.exact('2026-12-06T12:00:05Z')).toBe('12:00:05')
  })

  it('say the day only when it is another', () => {
    expect(times.since('2026-07-06T06:05:00Z', now)).toBe('07:05')
    expect(times.since('2026-07-03T06:05:00Z', now)).toBe('Fri 07:05')
    expect(times.since('2026-06-03T06:05:00Z', now)).toBe('3 Jun 07:05')
  })
})

test('a delay is said as people say it, and not at all where there was none', () => {
  expect([0, 0.4, 0.5, 70.4, 999, 1234, 9999, 70_257].map(delay)).toEqual([
    '',
    '',
    '1 ms',
    '70 ms',
    '999 ms',
    '1.2 s',
    '10 s',
    '1 min 10 s',
  ])
})
