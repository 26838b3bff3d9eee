import { describe, expect, it } from 'vitest'
import { contrast, dimmed, luminance, paperNeeded, rgbOf } from './readable'

const ink = rgbOf('#566064')
const paper = rgbOf('#f4f1ea')

describe('text on pictures', () => {
  it('measures contrast as WCAG does', () => {
    expect(contrast(luminance([1, 1, 1]), luminance([0, 0, 0]))).toBeCloseTo(21)
    expect(contrast(luminance(rgbOf('#777777')), luminance([1, 1, 1]))).toBeCloseTo(4.48, 2)
  })
  it('needs no paper over a picture as light as paper, and nearly all of it over a black one', () => {
    expect(paperNeeded(ink, paper, { darkest: 0.85, lightest: 0.95 })).toBe(0)
    const black = paperNeeded(ink, paper, { darkest: 0, lightest: 1 })
    expect(black).toBeGreaterThan(0.7)
    expect(black).toBeLessThan(1)
  })
  it('can be read on what it says, and could not be with any less', () => {
    for (const darkest of [0, 0.05, 0.2, 0.5]) {
      const share = paperNeeded(ink, paper, { darkest, lightest: 1 })
      const gray = (l: number) => (l <= 0.0031308 ? l * 12.92 : 1.055 * l ** (1 / 2.4) - 0.055)
      const on = (s: number) =>
        contrast(luminance(ink), luminance(paper.map((p) => s * p + (1 - s) * gray(darkest)) as typeof paper))
      expect(on(share)).toBeGreaterThanOrEqual(4.5)
      if (share > 0) expect(on(share - 0.01)).toBeLessThan(4.5)
    }
  })
  it('gives up the picture where text cannot be read on the paper itself', () => {
    expect(paperNeeded(paper, paper, { darkest: 0.3, lightest: 0.4 })).toBe(1)
  })
  it('dims further only for what shows through', () => {
    expect(dimmed(0.2, 0, 0.9)).toBe(0.2)
    expect(dimmed(0.2, 1, 0.9)).toBeCloseTo(0.9)
    expect(dimmed(0.2, 0.5, 0.9)).toBeCloseTo(0.8)
    expect(dimmed(0.95, 1, 0.9)).toBe(0.95)
  })
})
