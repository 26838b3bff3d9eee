import { useIntervalFn, useTimeoutFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { onScopeDispose, ref, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'

/** A place of a line. */
export interface LinePoint {
  /** In ms. */
  at: number
  value: number
}

/** How far back a line reaches, in hours, and in how many points. */
export interface Reach {
  hours: number
  points: number
}
/** How far back the lines beside figures reach. */
export const BESIDE: Reach = { hours: 6, points: 24 }
const HOUR = 3_600_000
/** How far back the lines beside figures reach, in ms. */
export const LINES_OVER = BESIDE.hours * HOUR
const EVERY = 5 * 60_000
const TOGETHER = 30
const AT_MOST = 200

const SEPARATOR = '\n'
const nameOf = (reach: Reach) => `${reach.hours} ${reach.points}`

/** How readings went over the last hours: of all that show a line, read together, and again every few minutes. */
export const useLinesStore = defineStore('lines', () => {
  const wanted = new Map<symbol, { reach: Reach; series: string[] }>()
  /** By how far they reach, then by the series. */
  const lines = ref(new Map<string, Map<string, LinePoint[]>>())
  const readAt = new Map<string, number>()
  const none: LinePoint[] = []

  async function read(reach: Reach, series: string[]) {
    const name = nameOf(reach)
    for (let i = 0; i < series.length; i += AT_MOST) {
      const of = series.slice(i, i + AT_MOST)
      const all = await ask(api.GET('/api/lines', { params: { query: { of, ...reach } } })).catch(() => [])
      const next = new Map(lines.value.get(name))
      for (const s of of) readAt.set(name + s, Date.now())
      for (const l of all)
        next.set(
          `${l.device}~${l.name}`,
          l.points.map((p) => ({ at: Date.parse(p.at), value: p.value })),
        )
      lines.value = new Map(lines.value).set(name, next)
    }
  }
  const isOld = (reach: Reach, series: string) => Date.now() - (readAt.get(nameOf(reach) + series) ?? 0) > EVERY
  function readWanted(fits: (reach: Reach, series: string) => boolean) {
    const all = [...wanted.values()]
    for (const name of new Set(all.map((w) => nameOf(w.reach)))) {
      const alike = all.filter((w) => nameOf(w.reach) === name)
      const { reach } = alike[0]!
      const series = [...new Set(alike.flatMap((w) => w.series))].filter((s) => fits(reach, s))
      if (series.length) void read(reach, series)
    }
  }
  useIntervalFn(() => readWanted(() => true), EVERY)
  const soon = useTimeoutFn(() => readWanted(isOld), TOGETHER, { immediate: false })

  function want(who: symbol, series: string[], reach: Reach) {
    if (series.length) {
      wanted.set(who, { reach, series })
      soon.start()
      return
    }
    wanted.delete(who)
  }
  const lineOf = (series: string, reach: Reach) => lines.value.get(nameOf(reach))?.get(series) ?? none
  return { want, lineOf }
})

/** Has the lines of some series, each as device~property, at hand for as long as this is there; returns how to get one. */
export function useLines(
  of: MaybeRefOrGetter<string[]>,
  reach: MaybeRefOrGetter<Reach> = BESIDE,
): (series: string) => LinePoint[] {
  const store = useLinesStore()
  const me = Symbol('lines')
  watch(
    () => [nameOf(toValue(reach)), ...toValue(of)].join(SEPARATOR),
    () => store.want(me, toValue(of).filter(Boolean), toValue(reach)),
    { immediate: true },
  )
  onScopeDispose(() => store.want(me, [], BESIDE))
  return (series) => store.lineOf(series, toValue(reach))
}
