import { onScopeDispose, ref } from 'vue'
import { Background, loudness } from './moving'

const WIDTH = 80
const HEIGHT = 60
/** How often it looks, and listens, in ms. */
const LOOKS_EVERY = 250
const LISTENS_EVERY = 100
const PICTURE = { width: 640, height: 480, quality: 0.7 }

/** What a tablet sees and hears: how much moves before its camera, and how much louder it is than usual, in percent. */
export function useSenses(on: { moved: (share: number) => void; heard: (level: number) => void }) {
  const movement = ref(0)
  const noise = ref(0)
  /** Why it does not see, or not hear. */
  const blind = ref('')
  const deaf = ref('')
  const ends: (() => void)[] = []
  let video: HTMLVideoElement | undefined

  const reasonOf = (error: unknown) =>
    error instanceof DOMException && error.name === 'NotAllowedError'
      ? 'not allowed in this browser'
      : error instanceof DOMException && error.name === 'NotFoundError'
        ? 'there is none'
        : 'it cannot be used'

  async function see() {
    const stream = await navigator.mediaDevices.getUserMedia({
      video: { width: PICTURE.width, height: PICTURE.height },
    })
    ends.push(() => stream.getTracks().forEach((t) => t.stop()))
    video = document.createElement('video')
    video.srcObject = stream
    video.muted = true
    await video.play()
    const canvas = document.createElement('canvas')
    canvas.width = WIDTH
    canvas.height = HEIGHT
    const context = canvas.getContext('2d', { willReadFrequently: true })!
    const worker = new Worker(new URL('./moving.worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = (event: MessageEvent<number>) => {
      movement.value = event.data
      on.moved(event.data)
    }
    const timer = setInterval(() => {
      context.drawImage(video!, 0, 0, WIDTH, HEIGHT)
      const { data } = context.getImageData(0, 0, WIDTH, HEIGHT)
      worker.postMessage(data, [data.buffer])
    }, LOOKS_EVERY)
    ends.push(() => clearInterval(timer))
    ends.push(() => worker.terminate())
  }
  async function listen() {
    const stream = await navigator.mediaDevices.getUserMedia({
      audio: { autoGainControl: false, noiseSuppression: false, echoCancellation: false },
    })
    ends.push(() => stream.getTracks().forEach((t) => t.stop()))
    const audio = new AudioContext()
    ends.push(() => void audio.close())
    const analyser = audio.createAnalyser()
    audio.createMediaStreamSource(stream).connect(analyser)
    const samples = new Float32Array(analyser.fftSize)
    const background = new Background()
    const timer = setInterval(() => {
      analyser.getFloatTimeDomainData(samples)
      noise.value = background.above(loudness(samples), LISTENS_EVERY)
      on.heard(noise.value)
    }, LISTENS_EVERY)
    ends.push(() => clearInterval(timer))
  }

  /** Begins to see and hear, as far as the browser lets it. */
  async function begin() {
    if (!navigator.mediaDevices) {
      blind.value = deaf.value = 'this needs an encrypted connection (https)'
      return
    }
    await see().catch((error: unknown) => (blind.value = reasonOf(error)))
    await listen().catch((error: unknown) => (deaf.value = reasonOf(error)))
  }
  /** A picture of what it sees now, as a JPEG in base64. */
  function picture(): string {
    if (!video?.videoWidth) throw new Error(`The panel sees nothing: ${blind.value || 'its camera is not ready'}.`)
    const canvas = document.createElement('canvas')
    canvas.width = PICTURE.width
    canvas.height = PICTURE.height
    canvas.getContext('2d')!.drawImage(video, 0, 0, canvas.width, canvas.height)
    return canvas.toDataURL('image/jpeg', PICTURE.quality).split(',')[1]!
  }
  onScopeDispose(() => ends.forEach((end) => end()))
  return { movement, noise, blind, deaf, begin, picture }
}
