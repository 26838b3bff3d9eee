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
    // What is there from the beginning is learned, also where it begins a moment later.
    hum.above(0, 100)
    for (let i = 0; i < 30; i++) expect(hum.above(40, 100)).toBe(0)
    // A moment of silence does not make the hum a noise.
    hum.above(0, 100)
    expect(hum.above(40, 100)).toBeLessThan(3)
    expect(hum.above(70, 100)).toBeGreaterThan(25)
    // What goes on becomes usual.
    for (let i = 0; i < 60; i++) hum.above(70, 100)
    expect(hum.above(70, 100)).toBe(0)
    // And what is quiet again is usual soon.
    for (let i = 0; i < 40; i++) hum.above(5, 100)
    expect(hum.above(40, 100)).toBeGreaterThan(30)
  })
})
