import { describe, expect, it } from 'vitest'
import type { PropertyState } from '@/api/types'
import { goalOf, shutterOf } from './shutters'

const state = (part: Partial<PropertyState>) => ({ certainty: 'confirmed', ...part }) as PropertyState

describe('a shutter', () => {
  it('is where the hub computes it, else where it says', () => {
    const computed = { place: 30, known: true, travel: false, moving: 'up' } as unknown as PropertyState['shutter']
    expect(shutterOf(state({ value: 80, shutter: computed }))).toBe(computed)
    expect(shutterOf(state({ value: 80 }))).toMatchObject({ place: 80, known: true })
    expect(shutterOf(state({ value: null }))).toMatchObject({ place: 0, known: false })
    expect(shutterOf(undefined).known).toBe(false)
  })

  it('has a goal while it is on its way', () => {
    expect(goalOf(state({ target: 40 }))).toBeUndefined()
    expect(goalOf(state({ target: 40, certainty: 'pending' }))).toBe(40)
    expect(goalOf(undefined)).toBeUndefined()
  })
})
