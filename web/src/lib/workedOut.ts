import { watchDebounced } from '@vueuse/core'
import { shallowRef, type WatchSource } from 'vue'

const BETWEEN_MS = 40

/** What the hub works out of something that is being changed: anew with every change, at most so often, and the last never lost. */
export function useWorkedOut<I, O>(input: WatchSource<I>, work: (input: I) => Promise<O>) {
  const shown = shallowRef<O>()
  const wrong = shallowRef('')
  let asked = 0
  watchDebounced(
    input,
    async (now) => {
      const turn = ++asked
      try {
        const said = await work(now as I)
        if (turn !== asked) return // what was asked for since counts
        shown.value = said
        wrong.value = ''
      } catch (error) {
        if (turn === asked) wrong.value = error instanceof Error ? error.message : String(error)
      }
    },
    { immediate: true, deep: true, debounce: BETWEEN_MS, maxWait: BETWEEN_MS * 2 },
  )
  return { shown, wrong }
}
