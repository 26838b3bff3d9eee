import { toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import type { DayPoint } from '@/api/types'
import { useWorkedOut } from './workedOut'

/** What a day curve says over a day, as the hub works it out. */
export function useCurveDay(points: MaybeRefOrGetter<DayPoint[]>, day?: MaybeRefOrGetter<string>) {
  const { shown, wrong } = useWorkedOut(
    () => ({ points: toValue(points), on: toValue(day) || undefined }),
    ({ points: all, on }) =>
      ask(api.POST('/api/curves/day', { params: { query: { day: on } }, body: { title: 'x', points: all } })),
  )
  return { day: shown, wrong }
}
