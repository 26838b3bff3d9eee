import { computed, shallowRef, watch } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { Dashboard, DraftOf } from '@/api/types'
import { useHome } from '@/stores/home'

/**
 * A dashboard that the hub lays out of what was picked, or of a room, and that is not saved. It is asked for anew as what is
 * in it changes; undefined until it is there, and where there is nothing that could stand on it.
 */
export function useDrafted(of: () => DraftOf | undefined) {
  const home = useHome()
  const board = shallowRef<Dashboard>()
  const failed = shallowRef('')
  let turn = 0

  /** What it depends on: which devices are in it, and as what they were saved last. */
  const stands = computed(() => {
    const asked = of()
    if (!asked || !home.loaded) return ''
    const picked = new Set(asked.picked?.map((p) => p.id))
    const devices = home.devices.filter((d) => (asked.room ? d.room === asked.room : picked.has(d.id)))
    return JSON.stringify([asked, devices.map((d) => [d.id, d.revision]), asked.room ? home.scenes.length : 0])
  })
  async function read() {
    const mine = ++turn
    const asked = of()
    if (!stands.value || !asked || asked.picked?.length === 0) {
      board.value = undefined
      return
    }
    try {
      const { dashboard, tallPlaces } = await ask(api.POST('/api/dashboards/draft', { body: asked }))
      if (mine === turn) board.value = { ...dashboard, tallPlaces, id: '', revision: 0 }
      failed.value = ''
    } catch (error) {
      if (mine !== turn) return
      board.value = undefined
      failed.value = reasonOf(error)
    }
  }
  watch(stands, read, { immediate: true })
  return { board, failed, again: read }
}
