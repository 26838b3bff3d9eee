import type { InjectionKey } from 'vue'
import type { Step } from '@/api/types'

/** A document with lists of steps, by their names: a rule's do and afterwards. */
export interface StepLists {
  do: Step[]
  afterwards?: Step[]
}

/** A place in a list of steps: the list by its path, such as do/0/then, and the index in it. */
export interface Place {
  list: string
  index: number
}

/** Moves steps in the document around; what is at hand where steps are shown. */
export interface StepMoves {
  move(from: Place, to: Place): void
  /** To the next place before or after, into and out of the steps around; returns the path of the step there. */
  nudge(from: Place, by: -1 | 1): string | undefined
}
export const stepMoves: InjectionKey<StepMoves> = Symbol('step moves')

export const pathOf = (place: Place) => `${place.list}/${place.index}`

/** The lists within a step, in the order in which they are shown. An empty else is not shown. */
function listsWithin(step: Step, path: string): { path: string; steps: Step[] }[] {
  const lists: { path: string; steps: Step[] }[] = []
  if (step.kind === 'if') lists.push({ path: `${path}/then`, steps: step.then ?? [] })
  if (step.kind === 'repeat' || step.kind === 'each') lists.push({ path: `${path}/do`, steps: step.do ?? [] })
  step.branches?.forEach((b, n) => lists.push({ path: `${path}/branches/${n}/do`, steps: b.do ?? [] }))
  if (step.else?.length) lists.push({ path: `${path}/else`, steps: step.else })
  return lists
}

function* placesIn(list: string, steps: Step[]): Generator<Place> {
  for (const [index, step] of steps.entries()) {
    yield { list, index }
    for (const inner of listsWithin(step, `${list}/${index}`)) yield* placesIn(inner.path, inner.steps)
  }
  yield { list, index: steps.length }
}

/** All places where a step can be put in, from top to bottom. */
function places(lists: StepLists): Place[] {
  return [...placesIn('do', lists.do), ...(lists.afterwards?.length ? placesIn('afterwards', lists.afterwards) : [])]
}

type Node = Record<string, unknown>

/** Changes one list of a copy. What it becomes without steps is as in the documents: an else or afterwards is none. */
function changeList(lists: StepLists, path: string, change: (steps: Step[]) => void) {
  const keys = path.split('/')
  const last = keys.pop()!
  let node = lists as unknown as Node
  for (const key of keys) node = node[key] as Node
  const steps = (node[last] as Step[] | undefined) ?? []
  change(steps)
  if (steps.length === 0 && (last === 'else' || last === 'afterwards')) delete node[last]
  else node[last] = steps
}

/** Where a place is once the step at from was taken out; undefined where it was within that step. */
function without(place: Place, from: Place): Place | undefined {
  const taken = pathOf(from)
  if (place.list === taken || place.list.startsWith(`${taken}/`)) return undefined
  if (place.list === from.list) return { ...place, index: place.index > from.index ? place.index - 1 : place.index }
  if (!place.list.startsWith(`${from.list}/`)) return place
  const [index, ...rest] = place.list.slice(from.list.length + 1).split('/')
  if (Number(index) < from.index) return place
  return { ...place, list: [from.list, Number(index) - 1, ...rest].join('/') }
}

/**
 * Takes a step out and puts it in elsewhere, with all within it. The index to put it at counts the list as it is before.
 * Returns the lists and where the step is then; undefined where it would be put into itself.
 */
export function moveStep<T extends StepLists>(lists: T, from: Place, to: Place): { lists: T; at: Place } | undefined {
  const at = without(to, from)
  if (!at) return undefined
  const next = JSON.parse(JSON.stringify(lists)) as T
  let step: Step | undefined
  changeList(next, from.list, (steps) => (step = steps.splice(from.index, 1)[0]))
  if (!step) return undefined
  changeList(next, at.list, (steps) => steps.splice(at.index, 0, step!))
  return { lists: next, at }
}

/** The next place for a step above or below, into and out of the steps around it; undefined at the ends. */
export function placeBeside(lists: StepLists, from: Place, by: -1 | 1): Place | undefined {
  const taken = pathOf(from)
  const all = places(lists).filter((p) => p.list !== taken && !p.list.startsWith(`${taken}/`))
  const here = all.findIndex((p) => p.list === from.list && p.index === from.index)
  // The places before and behind a step are the same to it.
  return all[by < 0 ? here - 1 : here + 2]
}

/** What an editor provides to the lists of steps within it. */
export function stepMoving(lists: () => StepLists, set: (lists: StepLists) => void): [typeof stepMoves, StepMoves] {
  const move = (from: Place, to: Place) => {
    const { do: steps, afterwards } = lists()
    const moved = moveStep({ do: steps, afterwards }, from, to)
    if (moved) set({ do: moved.lists.do, afterwards: moved.lists.afterwards })
    return moved && pathOf(moved.at)
  }
  const nudge = (from: Place, by: -1 | 1) => {
    const to = placeBeside(lists(), from, by)
    return to && move(from, to)
  }
  return [stepMoves, { move, nudge }]
}
