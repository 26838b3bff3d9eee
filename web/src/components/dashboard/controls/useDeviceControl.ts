import { computed } from 'vue'
import type { Control, Value } from '@/api/types'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import { certaintyOf } from '@/lib/certainty'
import { useHome } from '@/stores/home'

/** What a control of a property of a device shows, and how to set it. */
export function useDeviceControl(props: { control: Control }) {
  const home = useHome()
  const attempt = useAttempt()
  const device = computed(() => home.device(props.control.device))
  const property = computed(() => home.property(props.control.device, props.control.property))
  const state = computed(() => home.state(props.control.device, props.control.property))
  const certainty = computed(() => certaintyOf(state.value, device.value?.silent))
  const pending = computed(() => certainty.value === 'pending')
  const title = computed(() => props.control.label || device.value?.title || 'Nothing')
  const figure = computed(() => {
    if (!device.value || !property.value) return 'gone'
    return (pending.value ? state.value?.targetText : state.value?.text) ?? '–'
  })
  const write = (value: Value) => attempt(() => act.write(props.control.device!, props.control.property!, value))
  /** Asks once more for what the device did not do. */
  const again = computed(() => {
    const target = state.value?.target
    if (certainty.value !== 'failed' || target === undefined || target === null) return undefined
    return () => void write(target)
  })
  /** How it stands, as its face shows it. */
  const standing = computed(() => ({
    title: title.value,
    figure: figure.value,
    pending: pending.value,
    failed: certainty.value === 'failed',
    silent: device.value?.silent,
    again: again.value,
  }))
  return { device, property, state, certainty, pending, title, figure, standing, write }
}
