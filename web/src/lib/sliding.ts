import { useTimeoutFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { PropertyState } from '@/api/types'
import { HEARD_WITHIN } from './askedFor'
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
  /** Where it was slid to, until the hub has heard of it. */
  const slid = ref<number>()
  const settled = useTimeoutFn(
    async (n: number) => {
      await write(n)
      forgotten.start()
    },
    SETTLE,
    { immediate: false },
  )
  const forget = () => {
    if (slid.value !== undefined && !settled.isPending.value) slid.value = undefined
  }
  const forgotten = useTimeoutFn(forget, HEARD_WITHIN, { immediate: false })
  watch(wanted, forget)
  /** Where it was slid to, or what it is asked for. */
  const asked = computed(() => slid.value ?? rounded(wanted.value))
  /** What the device says it is at. */
  const confirmed = computed(() => {
    const value = state()?.value
    return typeof value === 'number' ? rounded(value) : asked.value
  })
  /** Whether it was slid while nothing is known of it. */
  const fromUnknown = computed(() => slid.value !== undefined && typeof state()?.value !== 'number')
  const certainty = computed(() =>
    fromUnknown.value || asked.value !== confirmed.value ? ('pending' as const) : certaintyOf(state(), silent()),
  )
  function slide(to: number) {
    slid.value = to
    settled.start(to)
  }
  return { asked, confirmed, certainty, slide }
}
