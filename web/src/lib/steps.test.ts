import { describe, expect, it } from 'vitest'
import type { Step } from '@/api/types'
import { hasOtherwise, newStep, ruleKinds, scheduleKinds, stepChoices, stepTitle, takesTime } from './steps'

describe('steps', () => {
  it('offers a schedule only what is done at once, a scene first', () => {
    expect(scheduleKinds[0]).toBe('scene')
    expect(scheduleKinds).toHaveLength(new Set(scheduleKinds).size)
    for (const kind of scheduleKinds) expect(ruleKinds).toContain(kind)
    for (const kind of ['wait', 'if', 'hold', 'script', 'web'] as const) expect(scheduleKinds).not.toContain(kind)
  })

  it('has words for each kind', () => {
    for (const kind of ruleKinds) expect(stepTitle(kind)).not.toBe('')
  })

  it('keeps what an old step was about where the new kind is about the same', () => {
    const old: Step = { kind: 'set', device: 'd', property: 'brightness', value: 40 }
    expect(newStep('hold', old)).toEqual({ kind: 'hold', device: 'd', property: 'brightness', value: 40 })
    expect(newStep('ramp', old)).toMatchObject({ kind: 'ramp', device: 'd', value: 40, forSeconds: 60 })
    expect(newStep('wait', old)).toEqual({ kind: 'wait' })
    expect(newStep('show', { kind: 'notify', text: 'The kiln is hot.' })).toEqual({
      kind: 'show',
      text: 'The kiln is hot.',
    })
  })

  it('gives each new step lists of its own', () => {
    const one = newStep('if')
    one.then!.push({ kind: 'wait' })
    expect(newStep('if').then).toHaveLength(1)
  })

  it('says what is done otherwise only where that is decided', () => {
    expect(hasOtherwise({ kind: 'set' })).toBe(false)
    expect(hasOtherwise({ kind: 'set', untilDone: true })).toBe(true)
    expect(hasOtherwise({ kind: 'action' })).toBe(false)
    expect(hasOtherwise({ kind: 'action', into: 'v' })).toBe(true)
    expect(hasOtherwise({ kind: 'until' })).toBe(true)
    expect(hasOtherwise({ kind: 'wait' })).toBe(false)
  })

  it('finds what waits, however deep', () => {
    expect(takesTime(undefined)).toBe(false)
    expect(takesTime([{ kind: 'set' }, { kind: 'if', then: [{ kind: 'scene' }] }])).toBe(false)
    expect(takesTime([{ kind: 'set', untilDone: true }])).toBe(true)
    expect(takesTime([{ kind: 'each', do: [{ kind: 'oneOf', branches: [{ do: [{ kind: 'web' }] }] }] }])).toBe(true)
    expect(takesTime([{ kind: 'if', else: [{ kind: 'wait', forSeconds: 1 }] }])).toBe(true)
  })
})

it('each kind of step is offered once, beside its like, with what it is for', () => {
  const choices = stepChoices(ruleKinds)
  expect(choices.map((c) => c.value).sort()).toEqual([...ruleKinds].sort())
  for (const c of choices) expect(c.note).toBeTruthy()
  const groups = choices.map((c) => c.group)
  expect(groups.filter((g, i) => g !== groups[i - 1])).toEqual([...new Set(groups)])
})
