import { describe, expect, it } from 'vitest'
import type { Device, RuleDocument } from '@/api/types'
import { devicesOf, likelyFirst, unlessSame } from './likely'
import { join } from './sentences'

const device = (id: string, room?: string) => ({ id, room }) as Device
const choice = (id: string, group: string) => ({ value: join(id, 'on'), title: id, group })

describe('what is likely to be chosen', () => {
  const devices = [device('pump', 'yard'), device('lamp', 'hall'), device('eye', 'hall'), device('bell')]
  const choices = [
    choice('pump', 'Yard'),
    choice('lamp', 'Hall'),
    choice('eye', 'Hall'),
    choice('bell', 'Without a room'),
  ]
  const times = [{ value: 'window', title: 'the time', group: 'Other' }]
  it('is what the rule speaks of, then what is in the same rooms', () => {
    const list = likelyFirst(times, choices, new Set(['eye']), devices)
    expect(list.map((c) => `${c.group}: ${c.title}`)).toEqual([
      'In this rule: eye',
      'Other: the time',
      'Hall: lamp',
      'Yard: pump',
      'Without a room: bell',
    ])
  })
  it('is nothing as long as the rule speaks of nothing, and only what is there', () => {
    expect(likelyFirst(times, choices, new Set(), devices)).toEqual([...times, ...choices])
    expect(likelyFirst([], choices, new Set(['gone']), devices).map((c) => c.title)).toEqual([
      'pump',
      'lamp',
      'eye',
      'bell',
    ])
  })
  it('finds devices wherever a rule speaks of them', () => {
    const rule = {
      title: 'r',
      whenever: { all: [{ device: 'eye', property: 'motion' }] },
      do: [{ kind: 'if', then: [{ kind: 'set', device: 'lamp' }] }],
    } as unknown as RuleDocument
    expect([...devicesOf(rule)].sort()).toEqual(['eye', 'lamp'])
  })
  it('stays the same set as long as it is of the same devices', () => {
    const before = new Set(['eye', 'lamp'])
    expect(unlessSame(before, new Set(['lamp', 'eye']))).toBe(before)
    for (const now of [new Set(['eye']), new Set(['eye', 'pump'])]) expect(unlessSame(before, now)).toBe(now)
    expect(unlessSame(undefined, before)).toBe(before)
  })
})
