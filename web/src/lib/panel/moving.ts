/** By so much of 255 the light of a place differs where something moved. */
const DIFFERS = 25

/** How much of a picture moved since the one before, in percent: both are the red, green, blue and opacity of each place. */
export function movedShare(before: Uint8ClampedArray, now: Uint8ClampedArray): number {
  const BYTES = 4
  let moved = 0
  for (let i = 0; i < now.length; i += BYTES) {
    // Rec. 601 luma, in whole numbers.
    const light = (p: Uint8ClampedArray) => (p[i]! * 77 + p[i + 1]! * 150 + p[i + 2]! * 29) >> 8
    if (Math.abs(light(now) - light(before)) > DIFFERS) moved++
  }
  return (100 * moved * BYTES) / now.length
}

/** How loud sound is, from its samples, in percent: 0 is at −60 dB of full scale and below, 100 at full scale. */
export function loudness(samples: Float32Array): number {
  let sum = 0
  for (const s of samples) sum += s * s
  const SILENT = -60
  const decibels = 20 * Math.log10(Math.sqrt(sum / samples.length) || 1e-9)
  return Math.max(0, Math.min(100, (100 * (decibels - SILENT)) / -SILENT))
}

/** How much louder it is than usual: what hums all the time is no noise. */
export class Background {
  private usual: number | undefined
  /** Takes how loud it is after so many ms, and returns by how much that is more than usual, in percent. */
  above(level: number, elapsed: number): number {
    // It falls at once to what is more quiet, and rises slowly to what stays.
    const RISES = 2 / 1000
    this.usual = this.usual === undefined ? level : Math.min(level, this.usual + RISES * elapsed)
    return level - this.usual
  }
}
