import { useEventListener } from '@vueuse/core'
import { onMounted, watch, type Ref } from 'vue'

/** What the address of a document that was just made carries along: it is filled in at once. */
export const FILLING = { filling: true }

/**
 * Has a sentence that was just made filled in word by word: the list of its first empty place opens by itself, and when that is
 * filled the next one's, until somebody leaves a list or presses elsewhere. Where no place is empty more may be added, which
 * says whether it did.
 */
export function useFilling(sentence: Ref<HTMLElement | null>, changed: () => unknown, add: () => boolean) {
  const state = history.state as { filling?: boolean } | null
  let filling = state?.filling === true
  if (!filling) return
  history.replaceState({ ...state, filling: undefined }, '') // not again after a reload

  async function openNext() {
    // After the press that filled the place before, which would shut a list that opens meanwhile.
    await new Promise((drawn) => requestAnimationFrame(drawn))
    if (!filling) return
    const next = sentence.value?.querySelector<HTMLElement>('.token.unset')
    if (!next) filling = add()
    else if (!document.querySelector('.p-popover form')) next.click()
  }
  const stop = () => (filling = false)
  useEventListener(document, 'keydown', (e) => e.key === 'Escape' && stop(), { capture: true })
  useEventListener(document, 'pointerdown', (e) => (e.target as Element).closest('.p-popover') || stop(), {
    capture: true,
  })
  onMounted(openNext)
  watch(changed, openNext, { flush: 'post' })
}
