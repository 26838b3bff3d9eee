import { defineStore } from 'pinia'
import { reactive, watch } from 'vue'
import type { FoundDevice } from '@/api/types'

export interface Choice {
  ticked: boolean
  title: string
  room: string
}

const KEPT = 'amvek.adding'
export const keyOf = (d: FoundDevice) => `${d.connection}/${d.hardware}`

/** What was ticked and named under Found. It stays while the owner goes elsewhere, say to install a profile. */
export const useAdding = defineStore('adding', () => {
  const choices = reactive(new Map<string, Choice>(kept()))

  function kept(): [string, Choice][] {
    try {
      return JSON.parse(sessionStorage.getItem(KEPT) ?? '[]') as [string, Choice][]
    } catch {
      return []
    }
  }
  watch(choices, () => sessionStorage.setItem(KEPT, JSON.stringify([...choices.entries()])), { deep: true })

  /** The choice for a found device, made on first use. */
  function choice(d: FoundDevice): Choice {
    const key = keyOf(d)
    if (!choices.has(key)) choices.set(key, { ticked: false, title: '', room: '' })
    return choices.get(key)!
  }
  const forget = (d: FoundDevice) => choices.delete(keyOf(d))

  return { choices, choice, forget }
})
