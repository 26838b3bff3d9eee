import { describe, expect, it } from 'vitest'
import type { Step } from '@/api/types'
import { moveStep, pathOf, placeBeside, type Place, type StepLists } from './stepMoves'

const tell = (text: string): Step => ({ kind: 'notify', text })
const rule = (): StepLists => ({
  do: [
    tell('a'),
    {
      kind: 'if',
      text: 'if',
      condition: {},
      then: [tell('b'), { kind: 'repeat', text: 'repeat', times: 2, do: [tell('c')] }],
      else: [tell('d')],
    },
    { kind: 'oneOf', text: 'one', branches: [{ do: [tell('e')] }, { do: [] }] },
  ],
  afterwards: [tell('f')],
})

/** The steps as they are read from top to bottom, each with how deep it stands. */
function outline(steps: Step[], depth = 0): string[] {
  return steps.flatMap((s) => [
    `${'.'.repeat(depth)}${s.text}`,
    ...outline(s.then ?? [], depth + 1),
    ...outline(s.do ?? [], depth + 1),
    ...(s.branches ?? []).flatMap((b) => outline(b.do, depth + 1)),
    ...outline(s.else ?? [], depth + 1),
  ])
}
const read = (r: StepLists) => [...outline(r.do), '|', ...outline(r.afterwards ?? [])].join(' ')

describe('moving steps', () => {
  it('takes a step with all within it to another list', () => {
    const before = rule()
    const moved = moveStep(before, { list: 'do', index: 1 }, { list: 'afterwards', index: 0 })!
    expect(read(moved.lists)).toBe('a one .e | if .b .repeat ..c .d f')
    expect(read(before)).toBe(read(rule())) // a copy was changed
  })
  it('knows where a place is once the step is taken out before it', () => {
    const moved = moveStep(rule(), { list: 'do', index: 0 }, { list: 'do/1/then/1/do', index: 1 })!
    expect(read(moved.lists)).toBe('if .b .repeat ..c ..a .d one .e | f')
    expect(pathOf(moved.at)).toBe('do/0/then/1/do/1')
  })
  it('puts no step into itself', () => {
    expect(moveStep(rule(), { list: 'do', index: 1 }, { list: 'do/1/then/1/do', index: 0 })).toBeUndefined()
  })
  it('leaves no empty else or afterwards behind', () => {
    const moved = moveStep(rule(), { list: 'do/1/else', index: 0 }, { list: 'do', index: 0 })!
    expect(moved.lists.do[2]).not.toHaveProperty('else')
    expect(moveStep(rule(), { list: 'afterwards', index: 0 }, { list: 'do', index: 0 })!.lists).not.toHaveProperty(
      'afterwards',
    )
  })
  it('goes down through every place, and up again the same way', () => {
    const walk = (start: StepLists, from: Place, by: -1 | 1) => {
      const seen = [read(start)]
      let lists = start
      let at = from
      for (let to = placeBeside(lists, at, by); to; to = placeBeside(lists, at, by)) {
        const moved = moveStep(lists, at, to)!
        lists = moved.lists
        at = moved.at
        seen.push(read(lists))
      }
      return { seen, lists, at }
    }
    const down = walk(rule(), { list: 'do', index: 0 }, 1)
    expect(down.seen).toEqual([
      'a if .b .repeat ..c .d one .e | f',
      'if .a .b .repeat ..c .d one .e | f',
      'if .b .a .repeat ..c .d one .e | f',
      'if .b .repeat ..a ..c .d one .e | f',
      'if .b .repeat ..c ..a .d one .e | f',
      'if .b .repeat ..c .a .d one .e | f',
      'if .b .repeat ..c .a .d one .e | f', // the first in the else
      'if .b .repeat ..c .d .a one .e | f',
      'if .b .repeat ..c .d a one .e | f',
      'if .b .repeat ..c .d one .a .e | f',
      'if .b .repeat ..c .d one .e .a | f',
      'if .b .repeat ..c .d one .e .a | f', // in the empty branch
      'if .b .repeat ..c .d one .e a | f',
      'if .b .repeat ..c .d one .e | a f',
      'if .b .repeat ..c .d one .e | f a',
    ])
    expect(walk(down.lists, down.at, -1).seen).toEqual([...down.seen].reverse())
  })
})
