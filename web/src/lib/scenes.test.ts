import { expect, test } from 'vitest'
import { fadeOf, withFade, withFades } from './scenes'

const lamp = (property: string, fadeSeconds?: number) => ({ device: 'lamp', property, value: 40, fadeSeconds })
const other = { device: 'other', property: 'brightness', value: 10 }

test('a lamp has one fade for all of its values', () => {
  const all = withFade([lamp('brightness'), lamp('white'), other], 'lamp', 30)
  expect(all.map((t) => t.fadeSeconds)).toEqual([30, 30, undefined])
  expect([fadeOf(all, 'lamp'), fadeOf(all, 'other')]).toEqual([30, undefined])
  expect(fadeOf(withFade(all, 'lamp', undefined), 'lamp')).toBeUndefined()
  expect(fadeOf(withFade(all, 'lamp', 0), 'lamp')).toBe(0)
})

test('what is captured anew keeps them', () => {
  const captured = [{ ...lamp('color'), value: 7 }, other]
  expect(withFades(captured, [lamp('brightness', 12), other])).toEqual([{ ...captured[0], fadeSeconds: 12 }, other])
})
