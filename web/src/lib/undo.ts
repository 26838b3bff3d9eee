import { ref, watch, type Ref } from 'vue'
import { canonical } from './canonical'

/** What follows within this time is one change: a word that is typed, not each letter. */
const MOMENT = 500

/** Every state of a document that is edited, to go back to and forth again, without a limit. */
export function useUndo<T>(document: Ref<T | undefined>) {
  const past = ref<string[]>([])
  const future = ref<string[]>([])
  let last = { at: 0, text: '' }

  watch(
    () => canonical(document.value),
    (now, before) => {
      if (now === last.text || !before) return
      if (Date.now() - last.at > MOMENT) past.value = [...past.value, before]
      future.value = []
      last = { at: Date.now(), text: now }
    },
  )
  function go(from: typeof past, to: typeof past) {
    const state = from.value.at(-1)
    if (!state) return
    to.value = [...to.value, canonical(document.value)]
    from.value = from.value.slice(0, -1)
    last = { at: Date.now(), text: state }
    document.value = JSON.parse(state) as T
  }
  return { past, future, undo: () => go(past, future), redo: () => go(future, past) }
}
