import { describe, expect, it } from 'vitest'
import type { Condition, RuleDocument } from '@/api/types'
import { rekindRule } from './rekind'

const moving: Condition = { device: 'eye', property: 'motion', comparison: 'is', value: true, forAtLeastSeconds: 5 }
const dark: Condition = { device: 'eye', property: 'light', comparison: 'below', value: 5 }
const base = { title: 'Stair', enabled: true, do: [] }

describe('when and whenever', () => {
  it('keeps a comparison there and back', () => {
    const rule: RuleDocument = { ...base, whenever: moving, provided: dark }
    const there = rekindRule(rule, false)
    expect(there.when).toEqual([{ device: 'eye', property: 'motion', comparison: 'is', value: true, forSeconds: 5 }])
    expect(there.provided).toEqual(dark)
    expect(rekindRule(there, true)).toMatchObject({ whenever: moving, provided: dark })
  })
  it('keeps sets of devices and formulas', () => {
    const formulas = { value: 'hour', forAtLeastSeconds: '2 * hour' }
    const whenever: Condition = { ...dark, value: undefined, formulas }
    const there = rekindRule({ ...base, whenever }, false)
    expect(there.when).toMatchObject([{ device: 'eye', formulas: { value: 'hour', forSeconds: '2 * hour' } }])
    expect(rekindRule(there, true).whenever).toMatchObject({ device: 'eye', formulas })
    const hall: Condition = { group: 'hall', which: 'any', property: 'motion', comparison: 'is', value: true }
    const begun = rekindRule({ ...base, whenever: hall }, false)
    expect(begun.when).toEqual([{ group: 'hall', property: 'motion', comparison: 'is', value: true }])
    expect(rekindRule(begun, true).whenever).toEqual(hall)
    const all: Condition = { ...hall, which: 'all' }
    expect(rekindRule({ ...base, whenever: all }, false)).toMatchObject({ when: [], provided: all })
  })
  it('keeps several of which any will do', () => {
    const there = rekindRule({ ...base, whenever: { any: [moving, dark] } }, false)
    expect(there.when).toHaveLength(2)
    expect(rekindRule(there, true).whenever).toEqual({ any: [moving, dark] })
  })
  it('needs for the start what cannot start it', () => {
    const whenever: Condition = { all: [moving, { none: [dark] }] }
    const there = rekindRule({ ...base, whenever, provided: dark }, false)
    expect(there.when).toEqual([])
    expect(there.provided).toEqual({ all: [dark, whenever] })
    expect(rekindRule({ ...base, whenever }, false).provided).toEqual(whenever)
    expect(rekindRule(rekindRule({ ...base, whenever }, false), true).whenever).toEqual(whenever)
  })
  it('sets what it held, and applies the scene', () => {
    const rule: RuleDocument = {
      ...base,
      whenever: moving,
      do: [
        { kind: 'hold', device: 'lamp', property: 'brightness', value: 5, firm: 'firm' },
        { kind: 'hold', scene: 'glow' },
        { kind: 'hold', device: 'lamp', property: 'brightness', value: 5, forSeconds: 9 },
      ],
    }
    expect(rekindRule(rule, false).do.map((s) => s.kind)).toEqual(['set', 'scene', 'hold'])
  })
})
