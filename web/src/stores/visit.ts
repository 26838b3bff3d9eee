import { useDocumentVisibility, useLocalStorage, watchThrottled } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, watch } from 'vue'
import { useHome } from './home'

/** After so long without this page in sight, whoever comes back is here anew, in ms. */
export const AWAY_FROM = 30 * 60_000
/** How far back somebody looks who was never here, in ms. */
const FIRST_LOOK = 24 * 3_600_000
const NOTED_OFTEN = 20_000

/** When somebody was here before, by the hub's clock, as this browser remembers it. */
export const useVisit = defineStore('visit', () => {
  const home = useHome()
  const visible = useDocumentVisibility()
  const seen = useLocalStorage('amvek.seen', 0)
  const left = useLocalStorage('amvek.left', 0)

  /** Takes that the page is in sight. */
  function here() {
    if (visible.value !== 'visible') return
    if (home.now - seen.value > AWAY_FROM) left.value = seen.value
    seen.value = home.now
  }
  function begin() {
    here()
    watch(visible, here)
    watchThrottled(() => home.now, here, { throttle: NOTED_OFTEN })
  }

  /** Whether this browser was here before. */
  const knownHere = computed(() => left.value > 0)
  const from = computed(() => (left.value > 0 ? left.value : seen.value - FIRST_LOOK))
  return { begin, from, knownHere }
})
