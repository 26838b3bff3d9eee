import { describe, expect, it } from 'vitest'
import type { Link, Property } from '@/api/types'
import { newStage, stageChoices, stands, usualStages } from './stages'

const light = { name: 'light', type: 'number', minimum: 0, maximum: 255 } as Property
const brightness = { name: 'brightness', type: 'number', minimum: 0, maximum: 100 } as Property

describe('stages of links', () => {
  it('begin with the ranges of what the link joins', () => {
    expect(newStage('map', { source: light, turned: false, target: brightness })).toEqual({
      kind: 'map',
      in: { from: 0, to: 255 },
      out: { from: 0, to: 100 },
    })
    const power = { name: 'power', type: 'boolean' } as Property
    expect(newStage('map', { source: power, turned: false })).toMatchObject({ in: { from: 0, to: 1 } })
  })

  it('are proposed by what feeds the link', () => {
    const kinds = (turned: boolean) => usualStages({ turned, target: brightness }).map((s) => s.kind)
    expect(kinds(true)).toEqual(['relative', 'limit'])
    expect(kinds(false)).toEqual(['changes', 'limit', 'map'])
    expect(new Set(stageChoices.map((c) => c.value)).size).toBe(10)
  })

  it('say how a link stands', () => {
    const link = (problems: unknown[], open: boolean) => ({ problems, open }) as Link
    expect([stands(link([{}], false)), stands(link([], true)), stands(link([], false))]).toEqual([
      'failed',
      'on',
      'off',
    ])
  })
})
