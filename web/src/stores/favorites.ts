import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { api, ask } from '@/api/client'
import type { Pick } from '@/api/types'
import { useNotices } from './notices'

const same = (a: Pick, b: Pick) => a.kind === b.kind && a.id === b.id

/** What somebody keeps at hand, in their order: kept by the hub, so that their phone and their laptop have the same. */
export const useFavorites = defineStore('favorites', () => {
  const notices = useNotices()
  const kept = shallowRef<Pick[]>()
  const list = computed(() => kept.value ?? [])

  async function read() {
    kept.value = await ask(api.GET('/api/session/favorites'))
  }
  const has = (pick: Pick) => list.value.some((p) => same(p, pick))

  async function put(pick: Pick, at: number) {
    await ask(
      api.PUT('/api/session/favorites/{kind}/{id}', {
        params: { path: { kind: pick.kind, id: pick.id }, query: { at } },
      }),
    )
    await read()
  }
  async function drop(pick: Pick) {
    await ask(api.DELETE('/api/session/favorites/{kind}/{id}', { params: { path: { kind: pick.kind, id: pick.id } } }))
    await read()
  }
  /** Keeps something at hand, or no longer; to be taken back. */
  const toggle = (pick: Pick, title: string) =>
    notices.attempt(async () => {
      const at = list.value.findIndex((p) => same(p, pick))
      if (at < 0) {
        await put(pick, list.value.length)
        notices.done(`${title} is kept at hand.`, () => drop(pick))
      } else {
        await drop(pick)
        notices.done(`${title} is not at hand any more.`, () => put(pick, at))
      }
    })
  /** Moves something among what is at hand. */
  const move = (pick: Pick, at: number) => notices.attempt(() => put(pick, at))
  return { list, read, has, toggle, move }
})
