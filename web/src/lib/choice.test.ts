import { expect, it } from 'vitest'
import { narrowed } from './choice'

it('finds all words, in the title, the heading or what is said beside it, whatever their order and case', () => {
  const choices = [
    { value: 'a', title: 'Stair lamp: brightness', group: 'Hall' },
    { value: 'b', title: 'Loft lamp: power', group: 'Loft' },
    { value: 'c', title: 'All off', note: 'scene' },
  ]
  const values = (words: string) => narrowed(choices, words).map((c) => c.value)
  expect(values('')).toEqual(['a', 'b', 'c'])
  expect(values('  LAMP hall ')).toEqual(['a'])
  expect(values('scene')).toEqual(['c'])
  expect(values('lamp scene')).toEqual([])
})
