import { defineStore } from 'pinia'
import { ref, watchEffect } from 'vue'

export type Look = 'system' | 'day' | 'night'

const KEY = 'amvek.look'

/** The day or night look, by choice or as the browser says. */
export const useLook = defineStore('look', () => {
  const kept = localStorage.getItem(KEY)
  const choice = ref<Look>(kept === 'day' || kept === 'night' ? kept : 'system')
  const prefersNight = matchMedia('(prefers-color-scheme: dark)')
  const system = ref(prefersNight.matches)
  prefersNight.addEventListener('change', (e) => (system.value = e.matches))
  const night = ref(false)

  watchEffect(() => {
    night.value = choice.value === 'night' || (choice.value === 'system' && system.value)
    document.documentElement.dataset.look = night.value ? 'night' : 'day'
    localStorage.setItem(KEY, choice.value)
  })

  return { choice, night }
})
