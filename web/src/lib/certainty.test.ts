import { expect, test } from 'vitest'
import type { PropertyState } from '@/api/types'
import { certaintyOf, heldBy } from './certainty'

test('what failed or is asked for is told before that the device is silent', () => {
  const of = (certainty: string, silent: boolean) => certaintyOf({ certainty } as PropertyState, silent)
  expect([of('failed', true), of('pending', true), of('confirmed', true), of('assumed', true)]).toEqual([
    'failed',
    'pending',
    'silent',
    'silent',
  ])
  expect([of('confirmed', false), of('assumed', false), of('unknown', true)]).toEqual([
    'confirmed',
    'assumed',
    'unknown',
  ])
  expect(certaintyOf(undefined)).toBe('unknown')
})

test('only who is in effect holds a value, and the base holds nothing', () => {
  const state = (...holders: object[]) => ({ holders }) as PropertyState
  const hold = (byHand: boolean, inEffect: boolean, level = 1) => ({ byHand, inEffect, level })
  expect(heldBy(state(hold(true, false), hold(false, true)))).toBe('automation')
  expect(heldBy(state(hold(true, true)))).toBe('hand')
  expect(heldBy(state(hold(true, true, 0)))).toBe('')
  expect(heldBy(state())).toBe('')
  expect(heldBy(undefined)).toBe('')
})
