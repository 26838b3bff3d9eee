import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { Step } from '@/api/types'

const KEPT = 'amvek.steps'

/** Steps that were copied or cut, to be put in elsewhere, also in another rule. */
export const useClipboard = defineStore('clipboard', () => {
  const steps = ref<Step[]>(JSON.parse(sessionStorage.getItem(KEPT) ?? '[]') as Step[])

  function take(list: Step[]) {
    steps.value = JSON.parse(JSON.stringify(list)) as Step[]
    sessionStorage.setItem(KEPT, JSON.stringify(steps.value))
  }
  const give = () => JSON.parse(JSON.stringify(steps.value)) as Step[]

  return { steps, take, give }
})
