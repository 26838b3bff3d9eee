import { useLocalStorage } from '@vueuse/core'
import type { Value } from '@/api/types'

/** The connection of the tablets that were let in as panels. */
export const PANELS = 'panels'

/** Where a browser keeps that it began as a panel. */
export const BEGUN = 'amvek.panel.begun'

/** What a panel is set to; it keeps that itself, as any device keeps its options, and tells the hub. */
export interface PanelSettings {
  /** In percent. */
  brightness: number
  /** In seconds without a touch; 0 is never. */
  darkAfter: number
  returnAfter: number
  /** For so many seconds after it fell dark it is not woken by what it sees or hears. */
  quietFor: number
  /** From so much, in percent, it wakes; 0 is never. */
  seesFrom: number
  hearsFrom: number
  /** In percent; 0 is as by day. */
  nightLevel: number
  /** Hours of the home's clock. */
  nightFrom: number
  nightUntil: number
  /** Questions and messages are said aloud, but not at night. */
  speaksAloud: boolean
  takesPictures: boolean
}

export const usualSettings: PanelSettings = {
  brightness: 100,
  darkAfter: 120,
  returnAfter: 60,
  quietFor: 5,
  seesFrom: 6,
  hearsFrom: 0,
  nightLevel: 40,
  nightFrom: 22,
  nightUntil: 7,
  speaksAloud: true,
  takesPictures: false,
}

const KEY = 'amvek.panel'
export const usePanelSettings = () =>
  useLocalStorage<PanelSettings>(KEY, usualSettings, { mergeDefaults: true, writeDefaults: false })

/** Sets one of them as the hub says; it is false where there is no such setting. */
export function withSetting(settings: PanelSettings, name: string, value: Value): PanelSettings | undefined {
  if (!(name in usualSettings) || typeof value !== typeof usualSettings[name as keyof PanelSettings]) return undefined
  return { ...settings, [name]: value }
}
