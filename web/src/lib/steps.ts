import type { Device, Property, Step } from '@/api/types'
import { sharedRoles } from './groups'
import { join } from './sentences'
import type { DeviceSet } from './sets'
import type { Choice } from './choice'

/** What is known of a kind of step, in the order in which they are offered. Its words are in components/rule/steps. */
interface StepTraits {
  /** What it does, as it stands before its words. */
  title: string
  /** That a schedule, which does all at once, may do it too. */
  scheduled?: true
  /** When it does what stands in its else; absent where it has none. */
  otherwise?: string
  /** Whether it says what is done otherwise, where not all of its kind do. */
  decides?: (s: Step) => boolean
  /** Whether it waits for anything, besides the steps within it. */
  waits?: true | ((s: Step) => boolean)
  /** What a new one begins with, in the place of an old one. */
  begin?: (old: Partial<Step>) => Partial<Step>
}

const fails = 'if that fails'
const inner = (): Step[] => [{ kind: 'set' }]
const about = ({ device, group, property }: Partial<Step>) => (device || group ? { device, group, property } : {})

const stepTraits: Record<Step['kind'], StepTraits> = {
  set: {
    title: 'set',
    scheduled: true,
    otherwise: 'if it does not follow',
    decides: (s) => !!s.untilDone,
    waits: (s) => !!s.untilDone,
    begin: (old) => ({ ...about(old), value: old.value }),
  },
  hold: { title: 'hold', begin: (old) => ({ ...about(old), value: old.value }) },
  scene: { title: 'apply scene', scheduled: true },
  sequence: { title: 'start sequence', scheduled: true },
  wait: { title: 'wait', waits: true },
  until: {
    title: 'wait until',
    otherwise: 'when that time is over',
    waits: true,
    begin: () => ({ condition: {} }),
  },
  if: { title: 'if', otherwise: 'otherwise', begin: () => ({ condition: {}, then: inner() }) },
  repeat: {
    title: 'repeat',
    begin: () => ({ times: 3, do: [{ kind: 'set' }, { kind: 'wait', forSeconds: 1 }] }),
  },
  each: { title: 'for each of', begin: () => ({ do: inner() }) },
  together: { title: 'at the same time', begin: () => ({ branches: [{ do: inner() }, { do: inner() }] }) },
  oneOf: { title: 'one of these, by chance', begin: () => ({ branches: [{ do: inner() }, { do: inner() }] }) },
  remember: { title: 'remember how it is' },
  putBack: { title: 'put back as remembered' },
  action: {
    title: 'ask a device',
    scheduled: true,
    otherwise: fails,
    decides: (s) => !!s.into,
    waits: (s) => !!s.into,
  },
  play: { title: 'play', scheduled: true },
  notify: { title: 'tell the household', scheduled: true, begin: (old) => ({ text: old.text }) },
  run: { title: 'run rule', scheduled: true },
  stop: { title: 'stop', scheduled: true },
  say: { title: 'say', scheduled: true },
  web: { title: 'call a web address', otherwise: fails, waits: true },
  publish: { title: 'publish a message', otherwise: fails, waits: true },
  program: { title: 'run a program', otherwise: fails, waits: true },
  ramp: {
    title: 'ramp',
    waits: true,
    begin: (old) => ({ ...about(old), value: old.value, forSeconds: 60 }),
  },
  script: { title: 'run a script', otherwise: fails },
  question: {
    title: 'ask the household',
    otherwise: 'if nobody answers',
    waits: true,
    begin: (old) => ({
      text: old.text,
      branches: [
        { answer: 'Yes', do: [] },
        { answer: 'No', do: [] },
      ],
    }),
  },
  show: { title: 'show on panels', scheduled: true, begin: (old) => ({ text: old.text }) },
  pause: { title: 'pause rule', scheduled: true },
  resume: { title: 'resume rule', scheduled: true },
}

/** What a rule can do. */
export const ruleKinds = Object.keys(stepTraits) as Step['kind'][]
/** What a schedule can do; a scene is what it mostly does. */
export const scheduleKinds: Step['kind'][] = [
  'scene',
  ...ruleKinds.filter((kind) => kind !== 'scene' && stepTraits[kind].scheduled),
]

/** What a kind of step does, as it stands before its words. */
export const stepTitle = (kind: Step['kind']) => stepTraits[kind].title

/** When a kind of step does what stands in its else. */
export const otherwiseTitle = (kind: Step['kind']) => stepTraits[kind].otherwise ?? 'otherwise'

/** Whether a step says what is done otherwise: a set does where it waits until it is done, an action where it waits for an answer. */
export function hasOtherwise(s: Step) {
  const { otherwise, decides } = stepTraits[s.kind]
  return otherwise !== undefined && (decides?.(s) ?? true)
}

export const MEMBER = 'member'
export const GROUP = 'group:'

/** What a new step of a kind begins with. */
export const newStep = (kind: Step['kind'], old: Partial<Step> = {}): Step => ({
  kind,
  ...stepTraits[kind].begin?.(old),
})

/** Whether steps, or steps within them, wait for anything. */
export function takesTime(steps: Step[] | undefined | null): boolean {
  return (steps ?? []).some((s) => {
    const { waits } = stepTraits[s.kind]
    return (
      (typeof waits === 'function' ? waits(s) : waits) ||
      takesTime(s.then) ||
      takesTime(s.else) ||
      takesTime(s.do) ||
      (s.branches ?? []).some((b) => takesTime(b.do))
    )
  })
}

/** Choices for a set of devices as a whole, or for the member whose turn it is. */
export function setChoices(
  sets: DeviceSet[],
  devices: Device[],
  fits: (p: Property) => boolean,
  member?: DeviceSet,
): Choice[] {
  const of = (prefix: string, lead: string, set: DeviceSet) =>
    sharedRoles(set, devices)
      .filter((s) => fits(s.property))
      .map((s) => ({
        value: join(prefix, s.role),
        title: `${lead} ${s.property.title.toLowerCase()}`,
        group: set.kind,
      }))
  return [
    ...(member ? of(MEMBER, 'the one’s', member) : []),
    ...sets.flatMap((s) => of(`${GROUP}${s.id}`, `all ${s.title}:`, s)),
  ]
}

/** What a set is told from a device by, in a choice. */
export const setOf = (choice: string) => (choice.startsWith(GROUP) ? choice.slice(GROUP.length) : undefined)
