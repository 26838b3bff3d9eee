/** The tones of each sound: in Hz, from when and for how long, in seconds. */
const sounds: Record<string, [number, number, number][]> = {
  chime: [
    [659, 0, 0.5],
    [523, 0.35, 0.9],
  ],
  bell: [
    [880, 0, 0.25],
    [880, 0.3, 0.25],
    [880, 0.6, 0.8],
  ],
  alarm: Array.from({ length: 8 }, (_, n) => [n % 2 ? 740 : 988, n * 0.25, 0.22] as [number, number, number]),
}

/** Plays one of the sounds that ship with panels. */
export function play(name: string) {
  const tones = sounds[name]
  if (!tones) throw new Error(`There is no sound "${name}".`)
  const audio = new AudioContext()
  const LOUD = 0.25
  const SOFT = 0.0001
  for (const [pitch, from, lasts] of tones) {
    const tone = audio.createOscillator()
    const gain = audio.createGain()
    const at = audio.currentTime + from
    tone.frequency.value = pitch
    gain.gain.setValueAtTime(LOUD, at)
    gain.gain.exponentialRampToValueAtTime(SOFT, at + lasts)
    tone.connect(gain).connect(audio.destination)
    tone.start(at)
    tone.stop(at + lasts)
  }
  const last = tones.at(-1)!
  setTimeout(() => void audio.close(), (last[1] + last[2] + 1) * 1000)
}

/** Whether the tablet has a voice. */
export const hasVoice = () => !!window.speechSynthesis?.getVoices().length

/** Says a text aloud, where the tablet has a voice. */
export function speak(text: string) {
  if (!hasVoice()) throw new Error('This tablet has no voice.')
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(text))
}
