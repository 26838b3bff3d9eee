import { describe, expect, it } from 'vitest'
import type { Condition, Daily, Rule } from '@/api/types'
import { gateOf, isNow, minuteOf, partOf, stretchesOf, type Part } from './keyParts'

const clock = (at: string): Daily => ({ anchor: 'clock', clock: at })

describe('parts of the day', () => {
  it('are what the gate of a rule says, and make it', () => {
    const parts: Part[] = [
      { kind: 'always' },
      { kind: 'mode', mode: 'out' },
      { kind: 'hours', from: clock('17:00'), to: { anchor: 'sunrise', offsetMinutes: -30 } },
    ]
    for (const part of parts) expect(partOf(gateOf(part))).toEqual(part)
    expect(partOf({ all: [gateOf(parts[1]!)!] })).toEqual(parts[1])
    const others: Condition[] = [
      { any: [{}, {}] },
      { device: 'own', property: 'mode', comparison: 'isNot', value: 'out' },
      { device: 'lamp', property: 'mode', comparison: 'is', value: 'out' },
      { all: [{ expression: 'true' }, {}] },
      { ...gateOf(parts[1]!), forAtLeastSeconds: 5 },
    ]
    for (const gate of others) expect(partOf(gate)).toEqual({ kind: 'other' })
  })

  it('are now where the hub says so', () => {
    const rule = (gate: Condition | undefined, truth?: boolean) =>
      ({ gate, state: { conditions: truth === undefined ? [] : [{ path: 'gate', truth }] } }) as unknown as Rule
    expect([isNow(rule(undefined)), isNow(rule({}, true)), isNow(rule({}, false)), isNow(rule({}))]).toEqual([
      true,
      true,
      false,
      false,
    ])
  })

  it('are drawn on the day, over midnight in two, and not where the sun does not come', () => {
    const sun = { rise: 8 * 60, set: 16 * 60 }
    expect(minuteOf(clock('06:30'), sun)).toBe(390)
    expect(minuteOf({ anchor: 'sunset', offsetMinutes: 30 }, sun)).toBe(990)
    expect(minuteOf({ anchor: 'sunset', offsetMinutes: 600 }, sun)).toBe(120)
    expect(minuteOf({ anchor: 'sunset' }, {})).toBeUndefined()
    expect(minuteOf({ anchor: 'clock' }, sun)).toBeUndefined()
    const hours = (from: Daily, to: Daily) => stretchesOf({ kind: 'hours', from, to }, sun)
    expect(hours(clock('06:00'), clock('18:00'))).toEqual([{ from: 0.25, to: 0.75 }])
    expect(hours(clock('18:00'), clock('06:00'))).toEqual([
      { from: 0, to: 0.25 },
      { from: 0.75, to: 1 },
    ])
    expect(hours(clock('18:00'), clock('00:00'))).toEqual([{ from: 0.75, to: 1 }])
    expect(stretchesOf({ kind: 'hours', from: { anchor: 'sunrise' }, to: clock('20:00') }, {})).toEqual([])
    expect(stretchesOf({ kind: 'always' }, sun)).toEqual([])
  })
})
