import { describe, expect, it } from 'vitest'
import type { Device, RuleDocument } from '@/api/types'
import { devicesOf, likelyFirst } from './likely'
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
  it('is what the rule speaks of, then what is in the same rooms', () => {
    const list = likelyFirst(choices, new Set(['eye']), devices)
    expect(list.map((c) => `${c.group}: ${c.title}`)).toEqual([
      'In this rule: eye',
      'Hall: lamp',
      'Yard: pump',
      'Without a room: bell',
    ])
  })
  it('is nothing as long as the rule speaks of nothing, and only what is there', () => {
    expect(likelyFirst(choices, new Set(), devices)).toBe(choices)
    expect(likelyFirst(choices, new Set(['gone']), devices).map((c) => c.title)).toEqual([
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
})
