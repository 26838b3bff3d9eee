import { expect, test } from 'vitest'
import { withFormula } from './formulas'

test('a formula comes, changes and goes, and leaves nothing behind', () => {
  const one = withFormula(undefined, 'forSeconds', '1 + 1')
  expect(one).toEqual({ forSeconds: '1 + 1' })
  const two = withFormula(one, 'value', '')
  expect(two).toEqual({ forSeconds: '1 + 1', value: '' })
  expect(withFormula(two, 'value', undefined)).toEqual(one)
  expect(withFormula(one, 'forSeconds', undefined)).toBeUndefined()
  expect(one).toEqual({ forSeconds: '1 + 1' })
})
