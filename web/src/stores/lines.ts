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

/** How far back the lines reach, in ms. */
export const LINES_OVER = 6 * 3_600_000
const EVERY = 5 * 60_000
const TOGETHER = 30
const AT_MOST = 200

/** How readings went over the last hours: of all that show a line, read together, and again every few minutes. */
export const useLinesStore = defineStore('lines', () => {
  const wanted = new Map<symbol, string[]>()
  const lines = ref(new Map<string, LinePoint[]>())
  const readAt = new Map<string, number>()
  const none: LinePoint[] = []

  async function read(series: string[]) {
    for (let i = 0; i < series.length; i += AT_MOST) {
      const of = series.slice(i, i + AT_MOST)
      const all = await ask(api.GET('/api/lines', { params: { query: { of } } })).catch(() => [])
      const next = new Map(lines.value)
      for (const s of of) readAt.set(s, Date.now())
      for (const l of all)
        next.set(
          `${l.device}~${l.name}`,
          l.points.map((p) => ({ at: Date.parse(p.at), value: p.value })),
        )
      lines.value = next
    }
  }
  const everyWanted = () => [...new Set([...wanted.values()].flat())]
  useIntervalFn(() => void read(everyWanted()), EVERY)
  const isOld = (series: string) => Date.now() - (readAt.get(series) ?? 0) > EVERY
  const soon = useTimeoutFn(() => void read(everyWanted().filter(isOld)), TOGETHER, { immediate: false })

  function want(who: symbol, series: string[]) {
    if (series.length) {
      wanted.set(who, series)
      soon.start()
      return
    }
    wanted.delete(who)
  }
  const lineOf = (series: string) => lines.value.get(series) ?? none
  return { want, lineOf }
})

/** Has the lines of some series, each as device~property, at hand for as long as this is there; returns how to get one. */
export function useLines(of: MaybeRefOrGetter<string[]>): (series: string) => LinePoint[] {
  const store = useLinesStore()
  const me = Symbol('lines')
  const SEPARATOR = '\n'
  watch(
    () => toValue(of).join(SEPARATOR),
    (now) => store.want(me, now.split(SEPARATOR).filter(Boolean)),
    { immediate: true },
  )
  onScopeDispose(() => store.want(me, []))
  return store.lineOf
}
