import { useTimeoutFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { PropertyState } from '@/api/types'
import { certaintyOf } from './certainty'

/** What is slid is sent once it rests for so long, in ms. */
const SETTLE = 200

/** What a property is asked for while it is not there yet, else what it is. */
export const wantedOf = (state: PropertyState | undefined) =>
  state?.certainty === 'pending' ? state.target : state?.value

/** A number that is slid: shown at once where it was slid to, and sent when it rests there. */
export function useSliding(
  state: () => PropertyState | undefined,
  silent: () => boolean | undefined,
  write: (value: number) => unknown,
  options: { minimum: () => number; places?: () => number },
) {
  const rounded = (n: number) => {
    const places = options.places?.() ?? 1
    return Math.round(n / places) * places
  }
  const wanted = computed(() => {
    const value = wantedOf(state())
    return typeof value === 'number' ? value : options.minimum()
  })
  /** Where it was slid to, or what it is asked for. */
  const asked = ref(0)
  const settled = useTimeoutFn((n: number) => void write(n), SETTLE, { immediate: false })
  watch(
    wanted,
    (now) => {
      if (!settled.isPending.value) asked.value = rounded(now)
    },
    { immediate: true },
  )
  /** What the device says it is at. */
  const confirmed = computed(() => {
    const value = state()?.value
    return typeof value === 'number' ? rounded(value) : asked.value
  })
  const certainty = computed(() =>
    asked.value === confirmed.value ? certaintyOf(state(), silent()) : ('pending' as const),
  )
  function slide(to: number) {
    asked.value = to
    settled.start(to)
  }
  return { asked, confirmed, certainty, slide }
}
