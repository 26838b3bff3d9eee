import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import type { Device } from '@/api/types'
import { act } from '@/lib/act'
import { certaintyOf } from '@/lib/certainty'
import { useNotices } from '@/stores/notices'

const FULL = 100
/** What each lamp was last on with, while this page is open. */
const lastOn = new Map<string, number>()

/** The real color of a lamp, of what was set last: a color or a white. */
export const colorOf = (device: Device): string | undefined =>
  device.states
    .filter((s) => s.swatch && s.text !== 'not in use')
    .sort((a, b) => (b.changedAt ?? '').localeCompare(a.changedAt ?? ''))[0]?.swatch

/** The light of a device: how it is, and what can be done with it. */
export function useLamp(of: MaybeRefOrGetter<Device>) {
  const notices = useNotices()
  const device = computed(() => toValue(of))
  const name = computed(() => device.value.light ?? '')
  const property = computed(() => device.value.description.properties.find((p) => p.name === name.value))
  const state = computed(() => device.value.states.find((s) => s.name === name.value))
  const certainty = computed(() => certaintyOf(state.value, device.value.silent))
  /** What it is asked for while it is not there yet, else what it is. */
  const wanted = computed(() => (certainty.value === 'pending' ? state.value?.target : state.value?.value))
  const dims = computed(() => property.value?.type === 'number')
  const on = computed(() => (typeof wanted.value === 'number' ? wanted.value > 0 : wanted.value === true))
  const swatch = computed(() => colorOf(device.value))
  const level = computed(() => (typeof wanted.value === 'number' ? wanted.value : on.value ? FULL : 0))

  const write = (value: number | boolean) => notices.attempt(() => act.write(device.value.id, name.value, value))
  function toggle() {
    if (!dims.value) return write(!on.value)
    if (on.value) lastOn.set(device.value.id, level.value)
    return write(on.value ? 0 : (lastOn.get(device.value.id) ?? FULL))
  }
  return { property, state, certainty, dims, on, level, swatch, toggle, write }
}
