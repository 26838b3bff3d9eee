import { ref, watch, type Ref } from 'vue'
import { canonical } from './canonical'

/** What follows within this time is one change: a word that is typed, not each letter. */
const MOMENT = 500
/** How many steps are kept over a reload. */
const KEPT = 100

/** A change of a document, from one text of it to another. */
interface Step {
  from: string
  to: string
}
interface Steps {
  past: Step[]
  future: Step[]
}

/**
 * Every change of a document that is edited, to go back and forth again. The newest are there after a reload, too, for
 * as long as the tab is open.
 *
 * Where the document is no longer as the step left it, since others changed it meanwhile, the step alone is to be taken
 * back and not what they did: overtaken does so, and without it the whole document is as it was.
 */
export function useUndo<T>(
  document: Ref<T | undefined>,
  key: () => string,
  overtaken?: (from: T, to: T) => Promise<unknown>,
) {
  const past = ref<Step[]>([])
  const future = ref<Step[]>([])
  const parse = (text: string) => JSON.parse(text) as T
  let last = { at: 0, text: '' }

  const name = () => `amvek.steps.${key()}`
  function open() {
    const kept = sessionStorage.getItem(name())
    const steps = kept ? (JSON.parse(kept) as Steps) : { past: [], future: [] }
    past.value = steps.past
    future.value = steps.future
    last = { at: 0, text: canonical(document.value) }
  }
  function keep() {
    for (let most = KEPT; most >= 1; most = Math.floor(most / 2)) {
      try {
        const steps: Steps = { past: past.value.slice(-most), future: future.value.slice(-most) }
        return sessionStorage.setItem(name(), JSON.stringify(steps))
      } catch {
        // too much for the browser: fewer of them are kept
      }
    }
  }

  watch(
    () => canonical(document.value),
    (now, before) => {
      if (now === last.text || !before) return
      const newest = past.value.at(-1)
      const step =
        newest && Date.now() - last.at <= MOMENT && newest.to === before
          ? { from: newest.from, to: now }
          : { from: before, to: now }
      past.value = step.from === newest?.from ? [...past.value.slice(0, -1), step] : [...past.value, step]
      future.value = []
      last = { at: Date.now(), text: now }
      keep()
    },
  )

  function go(from: typeof past, to: typeof past, back: boolean) {
    const step = from.value.at(-1)
    if (!step) return
    const [now, then] = back ? [step.to, step.from] : [step.from, step.to]
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, step]
    keep()
    if (overtaken && canonical(document.value) !== now) return void overtaken(parse(now), parse(then))
    last = { at: 0, text: then }
    document.value = parse(then)
  }

  open()
  return {
    past,
    future,
    undo: () => go(past, future, true),
    redo: () => go(future, past, false),
    /** Begins with another document. */
    open,
    /** Says that the document is about to be as others made it, which is no step of ours. */
    taken: (now: T | undefined) => (last = { at: 0, text: canonical(now) }),
  }
}
