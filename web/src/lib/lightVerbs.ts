import type { Light, LightVerb, Step, Value } from '@/api/types'
import type { Choice } from './choice'

/** What can be done with the light of a room: what it is called in a sentence, and what goes with it. What it does is the hub's. */
export type LightDeed = Exclude<LightVerb, ''>
interface VerbTraits {
  title: string
  help: string
  /** What goes with it, and what that begins with. */
  takes?: { unit?: string; minimum?: number; maximum?: number; begin: Value }
}

export const lightVerbs: Record<LightDeed, VerbTraits> = {
  next: { title: 'goes to its next scene', help: 'those that are skipped left out' },
  nextOff: { title: 'goes to its next scene, off after the last', help: 'such as for one key' },
  previous: { title: 'goes to the scene before', help: 'those that are skipped left out' },
  level: {
    title: 'goes to',
    help: 'its brightest lamp, the others in proportion',
    takes: { unit: '%', minimum: 0, maximum: 100, begin: 60 },
  },
  levelBy: {
    title: 'becomes brighter by',
    help: 'what is on; below 0 darker',
    takes: { unit: '%', minimum: -100, maximum: 100, begin: 10 },
  },
  white: {
    title: 'becomes white of',
    help: 'each lamp as near as it can',
    takes: { unit: 'K', minimum: 1000, maximum: 25_000, begin: 2700 },
  },
  whiteBy: {
    title: 'becomes cooler by steps',
    help: 'below 0 warmer',
    takes: { minimum: -20, maximum: 20, begin: 1 },
  },
  color: { title: 'takes the color', help: 'white lamps the nearest white', takes: { begin: { x: 0.56, y: 0.41 } } },
  on: { title: 'comes on', help: 'as its day curve says, or as it was last on' },
  follow: { title: 'follows its day curve again', help: 'those of its lamps that are on' },
  off: { title: 'goes off', help: 'all its lamps' },
  full: { title: 'is full', help: 'all on, as bright as they go, such as for cleaning' },
}

export const lightChoices: Choice<LightDeed>[] = (Object.keys(lightVerbs) as LightDeed[]).map((verb) => ({
  value: verb,
  title: lightVerbs[verb].title,
  note: lightVerbs[verb].help,
}))

/** A step that does something with the light of a room, with what goes with it. */
export const lightStep = (light: string | undefined, verb: LightDeed, value?: Value): Step => ({
  kind: 'light',
  light,
  verb,
  value: value ?? lightVerbs[verb].takes?.begin,
})

/** What keys commonly do with the light of a room. */
export function lightDoings(lights: Pick<Light, 'id' | 'title' | 'scenes'>[], step: number, white: number) {
  const common: { name: string; group: string; verb: LightDeed; value?: number; scenes?: true }[] = [
    { name: 'next-off', group: 'The next scene of a room, off after the last', verb: 'nextOff', scenes: true },
    { name: 'next', group: 'The next scene of a room', verb: 'next', scenes: true },
    { name: 'brighter', group: `A room ${step} % brighter`, verb: 'levelBy', value: step },
    { name: 'darker', group: `A room ${step} % darker`, verb: 'levelBy', value: -step },
    { name: 'warmer', group: 'A room warmer by a step', verb: 'whiteBy', value: -white },
    { name: 'cooler', group: 'A room cooler by a step', verb: 'whiteBy', value: white },
    { name: 'on', group: 'A room on, as it comes on', verb: 'on' },
    { name: 'off', group: 'A room all off', verb: 'off' },
    { name: 'full', group: 'A room full, such as for cleaning', verb: 'full' },
  ]
  return common.flatMap((c) =>
    lights
      .filter((l) => !c.scenes || l.scenes.some((s) => !s.skip))
      .map((l) => ({
        value: `light ${c.name} ${l.id}`,
        title: l.title,
        group: c.group,
        steps: [lightStep(l.id, c.verb, c.value)],
      })),
  )
}
