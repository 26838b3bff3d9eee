import { describe, expect, it } from 'vitest'
import type { CurveDay, DayPoint } from '@/api/types'
import { heightOf, moved, pointAt, raised } from './curves'

const clock = (at: string, level = 50): DayPoint => ({ at: { anchor: 'clock', clock: at }, level })

describe('points of a day curve', () => {
  it('are moved along the clock, and not beyond the day', () => {
    expect(moved(clock('06:55'), 10).at.clock).toBe('07:05')
    expect(moved(clock('00:05'), -30).at.clock).toBe('00:00')
    expect(moved(clock('23:50'), 30).at.clock).toBe('23:59')
  })

  it('by the sun change how long before or after it they are', () => {
    const dusk: DayPoint = { at: { anchor: 'sunset', offsetMinutes: -10 }, level: 50 }
    expect(moved(dusk, 30).at.offsetMinutes).toBe(20)
    expect(moved(dusk, 10).at.offsetMinutes).toBeUndefined()
    expect(moved(dusk, -2000).at.offsetMinutes).toBe(-720)
  })

  it('are drawn by level, or by white where there is no level', () => {
    expect(heightOf({ level: 40, kelvin: 2700 }, true)).toBe(0.4)
    expect(heightOf({ kelvin: 2700 }, true)).toBeUndefined()
    expect(heightOf({ kelvin: 1500 }, false)).toBe(0)
    expect(heightOf({ kelvin: 8000 }, false)).toBeCloseTo(1)
    expect(raised(clock('08:00'), 0.333, true).level).toBe(33)
    expect(raised(clock('08:00'), -1, true).level).toBe(1)
    const white = raised({ at: clock('08:00').at, kelvin: 3000 }, heightOf({ kelvin: 3000 }, false)!, false)
    expect(white.kelvin).toBe(3000)
  })

  it('are added where the curve goes through already', () => {
    const day = {
      along: [
        { hour: 7.9, level: 20.4, kelvin: 2203 },
        { hour: 8.2, level: 30, kelvin: 2400 },
      ],
    } as CurveDay
    expect(pointAt(day, 8)).toEqual({ at: { anchor: 'clock', clock: '08:00' }, level: 20, kelvin: 2200 })
    expect(pointAt(day, 24).at.clock).toBe('23:55')
  })
})
