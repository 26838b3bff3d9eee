import { describe, expect, it } from 'vitest'
import { lightChoices, lightDoings, lightStep, lightVerbs } from './lightVerbs'

describe('what is done with the light of a room', () => {
  it('begins with what goes with it', () => {
    expect(lightStep('l', 'level')).toEqual({ kind: 'light', light: 'l', verb: 'level', value: 60 })
    expect(lightStep('l', 'off')).toEqual({ kind: 'light', light: 'l', verb: 'off', value: undefined })
    expect(lightStep('l', 'whiteBy', -1)).toMatchObject({ value: -1 })
    expect(lightChoices.map((c) => c.value)).toEqual(Object.keys(lightVerbs))
  })

  it('is offered to keys, stepping only where there are scenes to step through', () => {
    const lights = [
      { id: 'mill', title: 'Mill room', scenes: [{ scene: 's' }] },
      { id: 'hall', title: 'Hall', scenes: [{ scene: 's', skip: true }] },
    ]
    const all = lightDoings(lights, 10, 1)
    expect(all.find((d) => d.value === 'light next-off mill')?.steps).toEqual([
      { kind: 'light', light: 'mill', verb: 'nextOff', value: undefined },
    ])
    expect(all.some((d) => d.value === 'light next-off hall')).toBe(false)
    expect(all.find((d) => d.value === 'light darker hall')?.steps[0]).toMatchObject({ verb: 'levelBy', value: -10 })
    expect(all.find((d) => d.value === 'light warmer hall')?.steps[0]).toMatchObject({ verb: 'whiteBy', value: -1 })
  })
})
