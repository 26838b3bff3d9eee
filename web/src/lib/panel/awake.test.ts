import { describe, expect, it } from 'vitest'
import { Awake, isNight } from './awake'
import { usualSettings, withSetting } from './settings'

const settings = { darkAfter: 60, quietFor: 5, seesFrom: 6, hearsFrom: 30 }
const second = 1000

describe('a panel', () => {
  it('goes dark some time after the last touch, and says before that it will', () => {
    const awake = new Awake(() => settings, 0)
    expect(awake.tick(59 * second)).toBe(false)
    awake.wake('touch', 59 * second)
    expect(awake.dims(100 * second)).toBe(false)
    expect(awake.dims(110 * second)).toBe(true)
    expect(awake.tick(118 * second)).toBe(false)
    expect(awake.tick(119 * second)).toBe(true)
    expect(awake.lit).toBe(false)
    expect(awake.tick(200 * second)).toBe(false)
  })
  it('never goes dark where that is not wanted', () => {
    const awake = new Awake(() => ({ ...settings, darkAfter: 0 }), 0)
    expect(awake.tick(1e9)).toBe(false)
    expect(awake.dims(1e9)).toBe(false)
  })
  it('wakes at somebody and at a noise from what was set on, and not within its quiet time', () => {
    const awake = new Awake(() => settings, 0)
    awake.darken(10 * second)
    expect(awake.sense('somebody', 50, 14 * second)).toBe(false)
    expect(awake.sense('somebody', 5.9, 20 * second)).toBe(false)
    expect(awake.sense('noise', 29, 20 * second)).toBe(false)
    expect(awake.sense('noise', 30, 20 * second)).toBe(true)
    expect(awake.wokenBy).toBe('noise')
    awake.darken(30 * second)
    expect(awake.sense('somebody', 6, 36 * second)).toBe(true)
    expect(awake.wokenBy).toBe('somebody')
    // Who is still there keeps it lit, and does not wake it again.
    expect(awake.sense('somebody', 6, 80 * second)).toBe(false)
    expect(awake.tick(100 * second)).toBe(false)
  })
  it('does not see or hear where that was set to never', () => {
    const awake = new Awake(() => ({ ...settings, seesFrom: 0, hearsFrom: 0 }), 0)
    awake.darken(0)
    expect(awake.sense('somebody', 100, 1e6)).toBe(false)
    expect(awake.sense('noise', 100, 1e6)).toBe(false)
  })
  it('knows the night, also over midnight', () => {
    expect([21, 22, 0, 6, 7].map((h) => isNight(h, 22, 7))).toEqual([false, true, true, true, false])
    expect([0, 1, 5, 6].map((h) => isNight(h, 1, 6))).toEqual([false, true, true, false])
    expect(isNight(3, 5, 5)).toBe(false)
  })
  it('takes only settings that there are, of the kind that they are', () => {
    expect(withSetting(usualSettings, 'darkAfter', 30)).toMatchObject({ darkAfter: 30 })
    expect(withSetting(usualSettings, 'darkAfter', 'soon')).toBeUndefined()
    expect(withSetting(usualSettings, 'volume', 3)).toBeUndefined()
  })
})
