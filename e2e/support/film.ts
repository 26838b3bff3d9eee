import { writeFile } from 'node:fs/promises'

const WIDTH = 160
const HEIGHT = 120
const PER_SECOND = 4

/** Writes what a camera sees as a file that a browser takes for a camera (YUV4MPEG2): nobody for some seconds, then somebody who
 * walks by, again and again. */
export async function writeFilm(path: string, still: number, moving: number): Promise<void> {
  const frames = [Buffer.from(`YUV4MPEG2 W${WIDTH} H${HEIGHT} F${PER_SECOND}:1 Ip A1:1 C420jpeg\n`)]
  const LIGHT = 90
  const GRAY = 128
  for (let n = 0; n < (still + moving) * PER_SECOND; n++) {
    const luma = Buffer.alloc(WIDTH * HEIGHT, LIGHT)
    const step = n - still * PER_SECOND
    if (step >= 0) {
      // A person is a bright upright shape that is elsewhere in each picture.
      const left = (step * 37) % (WIDTH - 50)
      for (let y = 10; y < HEIGHT; y++) luma.fill(230, y * WIDTH + left, y * WIDTH + left + 50)
    }
    frames.push(Buffer.from('FRAME\n'), luma, Buffer.alloc((WIDTH * HEIGHT) / 2, GRAY))
  }
  await writeFile(path, Buffer.concat(frames))
}

/** Writes what a microphone hears as a file (RIFF WAVE, 16 bits): a refrigerator that hums all the time. */
export async function writeHum(path: string, seconds: number): Promise<void> {
  const RATE = 16_000
  const samples = Buffer.alloc(RATE * seconds * 2)
  for (let n = 0; n < RATE * seconds; n++)
    samples.writeInt16LE(Math.round(6000 * Math.sin((2 * Math.PI * 50 * n) / RATE)), n * 2)
  const head = Buffer.alloc(44)
  head.write('RIFF', 0)
  head.writeUInt32LE(36 + samples.length, 4)
  head.write('WAVEfmt ', 8)
  head.writeUInt32LE(16, 16)
  head.writeUInt16LE(1, 20) // linear samples
  head.writeUInt16LE(1, 22) // one channel
  head.writeUInt32LE(RATE, 24)
  head.writeUInt32LE(RATE * 2, 28)
  head.writeUInt16LE(2, 32)
  head.writeUInt16LE(16, 34)
  head.write('data', 36)
  head.writeUInt32LE(samples.length, 40)
  await writeFile(path, Buffer.concat([head, samples]))
}
