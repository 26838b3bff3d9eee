import type { Link, LinkDocument, Property, Stage } from '@/api/types'
import type { Choice } from './choice'

/** The stages of links: which there are, and what a new one begins with. What they do is worked out by the hub. */

/** What a new stage is made for: what feeds the link, and what it sets. */
export interface Ends {
  source?: Property
  /** Whether what feeds it is turned, and says by how much. */
  turned: boolean
  /** Whether that is a key, of which each press counts. */
  pressed?: boolean
  target?: Property
}

interface StageTraits {
  title: string
  help: string
  begin: (ends: Ends) => Omit<Stage, 'kind'>
}

const FULL = 100
const rangeOf = (p: Property | undefined) =>
  p?.type === 'number' && p.minimum !== p.maximum
    ? { from: p.minimum ?? 0, to: p.maximum ?? FULL }
    : { from: 0, to: p?.type === 'boolean' ? 1 : FULL }

export const stageTraits: Record<Stage['kind'], StageTraits> = {
  changes: { title: 'only changes', help: 'what is the same as before does not pass', begin: () => ({}) },
  deadBand: {
    title: 'only larger changes',
    help: 'a dead band: small changes do not pass',
    begin: () => ({ width: 2 }),
  },
  limit: { title: 'at most … a second', help: 'the last value is never lost', begin: () => ({ perSecond: 5 }) },
  smooth: { title: 'smoothed', help: 'it follows with a time constant', begin: () => ({ seconds: 2 }) },
  delay: { title: 'later', help: 'each value passes after a time', begin: () => ({ seconds: 1 }) },
  map: {
    title: 'from one range to another',
    help: 'straight, even to the eye, or by a curve that you draw',
    begin: ({ source, target }) => ({ in: rangeOf(source), out: rangeOf(target) }),
  },
  bounds: {
    title: 'within limits',
    help: 'not below, not above',
    begin: ({ target }) => ({ low: Math.max(1, rangeOf(target).from), high: rangeOf(target).to }),
  },
  relative: {
    title: 'each adds',
    help: 'each step of a dial or press of a key adds to where the target is',
    begin: ({ target, pressed }) => ({ step: pressed ? 10 : 2, low: rangeOf(target).from, high: rangeOf(target).to }),
  },
  zeroOff: { title: 'zero is off', help: 'small values become 0', begin: () => ({ below: 0 }) },
  expression: {
    title: 'a formula',
    help: 'anything, with coming for what comes in',
    begin: () => ({ text: 'coming' }),
  },
}

export const stageChoices: Choice<Stage['kind']>[] = (Object.keys(stageTraits) as Stage['kind'][]).map((kind) => ({
  value: kind,
  title: stageTraits[kind].title,
  note: stageTraits[kind].help,
}))

/** A new stage of a kind. */
export const newStage = (kind: Stage['kind'], ends: Ends): Stage => ({ kind, ...stageTraits[kind].begin(ends) })

/** The stages that a link with these ends most likely wants; a start that is changed as one likes. */
export function usualStages(ends: Ends): Stage[] {
  if (ends.turned) return [newStage('relative', ends), newStage('limit', { ...ends })]
  return [newStage('changes', ends), newStage('limit', ends), newStage('map', ends)]
}

/** Whether a link is told apart from one that has everything it needs. */
export const stands = (l: Link): 'failed' | 'on' | 'off' => {
  if (l.problems.length) return 'failed'
  return l.open ? 'on' : 'off'
}

export const newLink = (): LinkDocument => ({ title: 'New link', enabled: true, sources: [], stages: [], targets: [] })
