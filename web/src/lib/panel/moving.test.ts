import { describe, expect, it } from 'vitest'
import { Background, loudness, movedShare } from './moving'

const picture = (...lights: number[]) => new Uint8ClampedArray(lights.flatMap((l) => [l, l, l, 255]))

describe('what a panel sees and hears', () => {
  it('is how much of the picture changed by more than a flicker', () => {
    expect(movedShare(picture(10, 20, 30, 40), picture(10, 20, 30, 40))).toBe(0)
    expect(movedShare(picture(10, 20, 30, 40), picture(34, 20, 30, 40))).toBe(0)
    expect(movedShare(picture(10, 20, 30, 40), picture(90, 20, 230, 40))).toBe(50)
  })
  it('is how loud it is', () => {
    expect(loudness(new Float32Array(64))).toBe(0)
    expect(loudness(new Float32Array(64).fill(1))).toBe(100)
    expect(loudness(new Float32Array(64).fill(0.0316))).toBeCloseTo(50, 0)
  })
  it('does not take for a noise what hums all the time', () => {
    const hum = new Background()
    hum.above(5, 100)
    expect(hum.above(40, 100)).toBeGreaterThan(30)
    for (let i = 0; i < 300; i++) hum.above(40, 100)
    expect(hum.above(40, 100)).toBeLessThan(1)
    expect(hum.above(70, 100)).toBeGreaterThan(25)
    hum.above(5, 100)
    expect(hum.above(40, 100)).toBeGreaterThan(30)
  })
})
