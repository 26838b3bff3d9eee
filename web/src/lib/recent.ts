import { useStorage } from '@vueuse/core'
import type { Choice } from './choice'
import { HERE } from './likely'

/** How many of the last choices are kept. */
const KEPT = 12
/** How many of them are shown at the top of a list. */
const SHOWN = 4
const LATELY = 'Chosen lately'

/** Puts what was chosen lately after what the rule speaks of already, and before all else. */
export function recentFirst<V extends string>(choices: Choice<V>[], recent: string[]): Choice<V>[] {
  const lately = recent
    .flatMap((value) => choices.find((c) => c.value === value && c.group !== HERE) ?? [])
    .slice(0, SHOWN)
  if (!lately.length) return choices
  const rest = choices.filter((c) => !lately.includes(c))
  const after = rest.findLastIndex((c) => c.group === HERE) + 1
  return [
    ...rest.slice(0, after),
    ...lately.map((c) => ({ ...c, group: LATELY, note: c.note ?? c.group })),
    ...rest.slice(after),
  ]
}

/** What was chosen lately in this browser, the newest first. */
export function useRecent() {
  const recent = useStorage<string[]>('amvek.recent', [])
  function remember(value: string) {
    recent.value = [value, ...recent.value.filter((v) => v !== value)].slice(0, KEPT)
  }
  return { recent, remember }
}
