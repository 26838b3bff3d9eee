import type { Device, Property, Step } from '@/api/types'
import { sharedRoles } from './groups'
import { join } from './sentences'
import type { DeviceSet } from './sets'
import type { Choice } from './choice'

const DEVICES = 'Devices'
const LIGHT = 'Light'
const ORDER = 'Time and order'
const HOUSEHOLD = 'Household'
const RULES = 'Other rules'
const BEYOND = 'Beyond the house'
const stepGroups = [DEVICES, LIGHT, ORDER, HOUSEHOLD, RULES, BEYOND] as const
type StepGroup = (typeof stepGroups)[number]

/** What is known of a kind of step, in the order in which they are offered. Its words are in components/rule/steps. */
interface StepTraits {
  /** What it does, as it stands before its words. */
  title: string
  /** What it is for, in a few words. */
  help: string
  /** Among which others it is offered. */
  group: StepGroup
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
    group: DEVICES,
    help: 'give a device a value, once',
    scheduled: true,
    otherwise: 'if it does not follow',
    decides: (s) => !!s.untilDone,
    waits: (s) => !!s.untilDone,
    begin: (old) => ({ ...about(old), value: old.value }),
  },
  hold: {
    title: 'hold',
    group: DEVICES,
    help: 'keep a value while the rule lasts',
    begin: (old) => ({ ...about(old), value: old.value }),
  },
  scene: { title: 'apply scene', group: LIGHT, help: 'bring lights to a scene', scheduled: true },
  light: { title: 'light', group: LIGHT, help: 'do something with the light of a room', scheduled: true },
  sequence: {
    title: 'start sequence',
    group: LIGHT,
    help: 'scenes one after the other, or light that moves',
    scheduled: true,
  },
  wait: { title: 'wait', group: ORDER, help: 'go on later', waits: true },
  until: {
    title: 'wait until',
    group: ORDER,
    help: 'go on once something is so',
    otherwise: 'when that time is over',
    waits: true,
    begin: () => ({ condition: {} }),
  },
  if: {
    title: 'if',
    group: ORDER,
    help: 'do one thing or another',
    otherwise: 'otherwise',
    begin: () => ({ condition: {}, then: inner() }),
  },
  repeat: {
    title: 'repeat',
    group: ORDER,
    help: 'again and again',
    begin: () => ({ times: 3, do: [{ kind: 'set' }, { kind: 'wait', forSeconds: 1 }] }),
  },
  each: { title: 'for each of', group: ORDER, help: 'once for each device of a group', begin: () => ({ do: inner() }) },
  together: {
    title: 'at the same time',
    group: ORDER,
    help: 'several things beside each other',
    begin: () => ({ branches: [{ do: inner() }, { do: inner() }] }),
  },
  oneOf: {
    title: 'one of these, by chance',
    group: ORDER,
    help: 'one of several, by chance',
    begin: () => ({ branches: [{ do: inner() }, { do: inner() }] }),
  },
  remember: { title: 'remember how it is', group: DEVICES, help: 'note how devices are' },
  putBack: { title: 'put back as remembered', group: DEVICES, help: 'as they were when noted' },
  action: {
    title: 'ask a device',
    group: DEVICES,
    help: 'what it can do besides its values',
    scheduled: true,
    otherwise: fails,
    decides: (s) => !!s.into,
    waits: (s) => !!s.into,
  },
  play: { title: 'play', group: DEVICES, help: 'a station or a title', scheduled: true },
  notify: {
    title: 'tell the household',
    group: HOUSEHOLD,
    help: 'a message in every open page',
    scheduled: true,
    begin: (old) => ({ text: old.text }),
  },
  run: { title: 'run rule', group: RULES, help: 'do its steps, too', scheduled: true },
  stop: { title: 'stop', group: RULES, help: 'end this run, or another rule’s', scheduled: true },
  say: { title: 'say', group: DEVICES, help: 'through loudspeakers', scheduled: true },
  web: {
    title: 'call a web address',
    group: BEYOND,
    help: 'ask or tell another program',
    otherwise: fails,
    waits: true,
  },
  publish: { title: 'publish a message', group: BEYOND, help: 'on the hub’s broker', otherwise: fails, waits: true },
  program: {
    title: 'run a program',
    group: BEYOND,
    help: 'of your own, on this machine',
    otherwise: fails,
    waits: true,
  },
  ramp: {
    title: 'ramp',
    group: DEVICES,
    help: 'bring a value slowly to another',
    waits: true,
    begin: (old) => ({ ...about(old), value: old.value, forSeconds: 60 }),
  },
  stepThrough: {
    title: 'step',
    group: DEVICES,
    help: 'go through values, such as while a key is held',
    waits: true,
    begin: (old) => ({ ...about(old), values: [], gapSeconds: 0.5 }),
  },
  script: { title: 'run a script', group: BEYOND, help: 'a few lines of Starlark', otherwise: fails },
  question: {
    title: 'ask the household',
    group: HOUSEHOLD,
    help: 'and do what goes with the answer',
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
  show: {
    title: 'show on panels',
    group: HOUSEHOLD,
    help: 'a text on wall panels',
    scheduled: true,
    begin: (old) => ({ text: old.text }),
  },
  pause: { title: 'pause rule', group: RULES, help: 'keep it from acting', scheduled: true },
  resume: { title: 'resume rule', group: RULES, help: 'let it act again', scheduled: true },
}

/** What a rule can do. */
export const ruleKinds = Object.keys(stepTraits) as Step['kind'][]
/** What a schedule can do; a scene is what it mostly does. */
export const scheduleKinds: Step['kind'][] = [
  'scene',
  ...ruleKinds.filter((kind) => kind !== 'scene' && stepTraits[kind].scheduled),
]

/** Kinds of step as they are offered: in groups, each with what it is for. */
export const stepChoices = (kinds: Step['kind'][]): Choice<Step['kind']>[] =>
  stepGroups.flatMap((group) =>
    kinds
      .filter((kind) => stepTraits[kind].group === group)
      .map((value) => ({ value, title: stepTraits[value].title, group, note: stepTraits[value].help })),
  )

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
