/** A color of sRGB, each part from 0 to 1. */
export type Rgb = [number, number, number]

const linear = (part: number) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4)
const gamma = (part: number) => (part <= 0.0031308 ? part * 12.92 : 1.055 * part ** (1 / 2.4) - 0.055)

/** The relative luminance of a color (WCAG 2.2). */
export const luminance = ([r, g, b]: Rgb) => 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(b)

/** The contrast of two luminances (WCAG 2.2), from 1 to 21. */
export const contrast = (a: number, b: number) => (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05)

/** A color written as #rrggbb. */
export function rgbOf(text: string): Rgb {
  const part = (at: number) => parseInt(text.trim().slice(at, at + 2), 16) / 255
  return [part(1), part(3), part(5)]
}

/** The contrast that text needs at least (WCAG 2.2, 1.4.3). */
const ENOUGH = 4.5
const STEPS = 100

/**
 * How much of the paper must lie over a picture, from 0 to 1, so that text can be read on its darkest and on its lightest
 * places. On the paper alone it can be read.
 */
export function paperNeeded(text: Rgb, paper: Rgb, picture: { darkest: number; lightest: number }): number {
  const words = luminance(text)
  const readable = (share: number) =>
    [picture.darkest, picture.lightest].every((of) => {
      const gray = gamma(of)
      const mixed = paper.map((part) => share * part + (1 - share) * gray) as Rgb
      return contrast(words, luminance(mixed)) >= ENOUGH
    })
  for (let step = 0; step < STEPS; step++) if (readable(step / STEPS)) return step / STEPS
  return 1
}

/** How far a picture is dimmed, from 0 to 1: as was chosen, and as far as what shows through the clearest control needs. */
export function dimmed(chosen: number, clearest: number, needed: number): number {
  if (clearest <= 0) return chosen
  return Math.max(chosen, 1 - (1 - needed) / clearest)
}
