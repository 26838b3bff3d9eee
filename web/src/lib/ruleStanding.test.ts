import { expect, test } from 'vitest'
import type { Rule } from '@/api/types'
import { broken, unfinished } from './ruleStanding'

test('what is still to be filled in is no fault; one fault beside it is', () => {
  const rule = (problems: { open?: boolean }[], stopped?: string) =>
    ({ state: { problems, stopped } }) as unknown as Rule
  const of = (r: Rule) => [broken(r), unfinished(r)]
  expect(of(rule([]))).toEqual([false, false])
  expect(of(rule([{ open: true }]))).toEqual([false, true])
  expect(of(rule([{ open: true }, {}]))).toEqual([true, false])
  expect(of(rule([], 'It ran too often.'))).toEqual([true, false])
})
