import { useSessionStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import type { Step } from '@/api/types'

const KEPT = 'amvek.steps'

/** Steps that were copied or cut, to be put in elsewhere, also in another rule. */
export const useClipboard = defineStore('clipboard', () => {
  const steps = useSessionStorage<Step[]>(KEPT, [])

  function take(list: Step[]) {
    steps.value = JSON.parse(JSON.stringify(list)) as Step[]
  }
  const give = () => JSON.parse(JSON.stringify(steps.value)) as Step[]

  return { steps, take, give }
})
