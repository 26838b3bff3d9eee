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

/** For so long it only learns what is usual, in ms. */
const LEARNS_FOR = 2000
/** How fast what is usual follows what it hears, in percent a ms. */
const RISES = 10 / 1000
const FALLS = 20 / 1000

/** How much louder it is than usual: what hums all the time is no noise. */
export class Background {
  private usual = 0
  private listened = 0
  /** Takes how loud it is after so many ms, and returns by how much that is more than usual, in percent. */
  above(level: number, elapsed: number): number {
    this.listened += elapsed
    if (this.listened <= LEARNS_FOR) this.usual = Math.max(this.usual, level)
    else if (level > this.usual) this.usual = Math.min(level, this.usual + RISES * elapsed)
    else this.usual = Math.max(level, this.usual - FALLS * elapsed)
    return Math.max(0, level - this.usual)
  }
}
