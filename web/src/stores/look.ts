import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, watchEffect } from 'vue'

export type Look = 'system' | 'day' | 'night'

const KEY = 'amvek.look'

/** The day or night look, by choice or as the browser says. */
export const useLook = defineStore('look', () => {
  const choice = useLocalStorage<Look>(KEY, 'system')
  const system = usePreferredDark()
  const night = computed(() => choice.value === 'night' || (choice.value !== 'day' && system.value))

  watchEffect(() => {
    document.documentElement.dataset.look = night.value ? 'night' : 'day'
  })

  return { choice, night }
})
