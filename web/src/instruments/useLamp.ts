import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import type { Device, Property, PropertyState, Value } from '@/api/types'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import { certaintyOf } from '@/lib/certainty'
import { wantedOf } from '@/lib/sliding'

const FULL = 100

/** The real color of a lamp, of what was set last: a color or a white. */
export const colorOf = (device: Device): string | undefined =>
  device.states
    .filter((s) => s.swatch && s.text !== 'not in use')
    .sort((a, b) => (b.changedAt ?? '').localeCompare(a.changedAt ?? ''))[0]?.swatch

/** What switches something dimmed on: a light comes on as the hub knows, by its day curve or as it was; anything else with what it was last on with. */
export const switchedOn = (property: Property | undefined, state: PropertyState | undefined): Value =>
  property?.role === 'brightness' ? true : (state?.lastOn ?? FULL)

/** What lights in a device, or is switched there: its light, or another property that is named; how it is, and what it can be told. */
export function useLamp(of: MaybeRefOrGetter<Device | undefined>, named?: MaybeRefOrGetter<string | undefined>) {
  const attempt = useAttempt()
  const device = computed(() => toValue(of))
  const name = computed(() => toValue(named) ?? device.value?.light ?? '')
  const property = computed(() => device.value?.description.properties.find((p) => p.name === name.value))
  const state = computed(() => device.value?.states.find((s) => s.name === name.value))
  const certainty = computed(() => certaintyOf(state.value, device.value?.silent))
  /** What it is asked for while it is not there yet, else what it is. */
  const wanted = computed(() => wantedOf(state.value))
  const dims = computed(() => property.value?.type === 'number')
  const on = computed(() => (typeof wanted.value === 'number' ? wanted.value > 0 : wanted.value === true))
  const swatch = computed(() => device.value && colorOf(device.value))
  const level = computed(() => (typeof wanted.value === 'number' ? wanted.value : on.value ? FULL : 0))

  const toggle = () =>
    attempt(async () => {
      if (!device.value) return
      const to = dims.value ? (on.value ? 0 : switchedOn(property.value, state.value)) : !on.value
      await act.write(device.value.id, name.value, to)
    })
  return { property, state, certainty, dims, on, level, swatch, toggle }
}
