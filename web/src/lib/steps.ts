import type { Device, Property, Step } from '@/api/types'
import { sharedRoles } from './groups'
import { join } from './sentences'
import type { DeviceSet } from './sets'
import type { Choice } from './choice'

/** The words of steps: what each does, and what it is about. */

export const stepWords: Record<Step['kind'], string> = {
  hold: 'hold',
  set: 'set',
  scene: 'apply scene',
  sequence: 'start sequence',
  wait: 'wait',
  until: 'wait until',
  if: 'if',
  repeat: 'repeat',
  each: 'for each of',
  together: 'at the same time',
  oneOf: 'one of these, by chance',
  remember: 'remember how it is',
  putBack: 'put back as remembered',
  action: 'ask a device',
  play: 'play',
  run: 'run rule',
  stop: 'stop',
  notify: 'tell the household',
  say: 'say',
  web: 'call a web address',
  publish: 'publish a message',
  program: 'run a program',
  ramp: 'ramp',
  script: 'run a script',
  question: 'ask the household',
  show: 'show on panels',
  pause: 'pause rule',
  resume: 'let act again rule',
}

/** What a rule can do; a schedule does all at once. */
export const ruleKinds: Step['kind'][] = [
  'set',
  'hold',
  'scene',
  'sequence',
  'wait',
  'until',
  'if',
  'repeat',
  'each',
  'together',
  'oneOf',
  'remember',
  'putBack',
  'action',
  'play',
  'notify',
  'run',
  'stop',
  'say',
  'web',
  'publish',
  'program',
  'ramp',
  'script',
  'question',
  'show',
  'pause',
  'resume',
]
export const scheduleKinds: Step['kind'][] = [
  'scene',
  'sequence',
  'set',
  'run',
  'action',
  'play',
  'notify',
  'show',
  'say',
  'stop',
  'pause',
  'resume',
]

/** When a step does what stands in its else. */
export const elseWords: Partial<Record<Step['kind'], string>> = {
  if: 'otherwise',
  until: 'when that time is over',
  question: 'if nobody answers',
  web: 'if that fails',
  publish: 'if that fails',
  program: 'if that fails',
  script: 'if that fails',
  set: 'if it does not follow',
  action: 'if that fails',
}

/** Whether a step says what is done otherwise: a set does where it waits until it is done, an action where it waits for an answer. */
export const hasOtherwise = (s: Step) =>
  elseWords[s.kind] !== undefined && (s.kind !== 'set' || !!s.untilDone) && (s.kind !== 'action' || !!s.into)

export const MEMBER = 'member'
export const GROUP = 'group:'

/** What a new step of a kind begins with. */
export function newStep(kind: Step['kind'], old?: Step): Step {
  const about = old && (old.device || old.group) ? { device: old.device, group: old.group, property: old.property } : {}
  const inner: Step[] = [{ kind: 'set' }]
  switch (kind) {
    case 'set':
    case 'hold':
      return { kind, ...about, value: old?.value }
    case 'ramp':
      return { kind, ...about, value: old?.value, forSeconds: 60 }
    case 'if':
      return { kind, condition: {}, then: inner }
    case 'until':
      return { kind, condition: {} }
    case 'repeat':
      return { kind, times: 3, do: [{ kind: 'set' }, { kind: 'wait', forSeconds: 1 }] }
    case 'question':
      return {
        kind,
        text: old?.text,
        branches: [
          { answer: 'Yes', do: [] },
          { answer: 'No', do: [] },
        ],
      }
    case 'notify':
    case 'show':
      return { kind, text: old?.text }
    case 'each':
      return { kind, do: inner }
    case 'together':
    case 'oneOf':
      return { kind, branches: [{ do: inner }, { do: inner }] }
    default:
      return { kind }
  }
}

/** Whether steps, or steps within them, wait for anything. */
export function takesTime(steps: Step[] | undefined | null): boolean {
  return (steps ?? []).some(
    (s) =>
      s.kind === 'wait' ||
      s.kind === 'until' ||
      s.untilDone ||
      (s.kind === 'action' && !!s.into) ||
      ['ramp', 'question', 'web', 'publish', 'program'].includes(s.kind) ||
      takesTime(s.then) ||
      takesTime(s.else) ||
      takesTime(s.do) ||
      (s.branches ?? []).some((b) => takesTime(b.do)),
  )
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
