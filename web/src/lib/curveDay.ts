import { watchDebounced } from '@vueuse/core'
import { shallowRef, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import type { CurveDay, DayPoint } from '@/api/types'

const BETWEEN_MS = 40

/** What a day curve says over a day, as the hub works it out: anew whenever its points change, the last ones never lost. */
export function useCurveDay(points: MaybeRefOrGetter<DayPoint[]>, day?: MaybeRefOrGetter<string>) {
  const shown = shallowRef<CurveDay>()
  const wrong = shallowRef('')
  let asked = 0
  watchDebounced(
    () => [toValue(points), toValue(day)] as const,
    async ([all, on]) => {
      const turn = ++asked
      try {
        const said = await ask(
          api.POST('/api/curves/day', {
            params: { query: { day: on || undefined } },
            body: { title: 'x', points: all },
          }),
        )
        if (turn !== asked) return // what was asked for since counts
        shown.value = said
        wrong.value = ''
      } catch (error) {
        if (turn === asked) wrong.value = error instanceof Error ? error.message : String(error)
      }
    },
    { immediate: true, deep: true, debounce: BETWEEN_MS, maxWait: BETWEEN_MS * 2 },
  )
  return { day: shown, wrong }
}
