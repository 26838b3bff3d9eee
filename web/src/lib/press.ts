import { useTimeoutFn } from '@vueuse/core'
import { onScopeDispose, ref } from 'vue'

/** For so long something is pressed until that is a hold, and for so long a second tap is waited for, in ms. */
export const HOLD = 550
const TWICE_WITHIN = 320
/** So far, in px, a finger may wander while it holds. */
const WANDERS = 12

interface Presses {
  tap: () => void
  /** Only where something comes of it; else a tap need not wait for a second one. */
  double?: () => (() => void) | undefined
  hold?: () => (() => void) | undefined
}

/**
 * Tells a tap, a double tap and a hold apart, by pointer and by keys: Enter taps, Shift+Enter taps twice, the menu key holds.
 */
export function usePress(on: Presses) {
  const holding = ref(false)
  let from: { x: number; y: number } | undefined
  let held = false
  const hold = useTimeoutFn(
    () => {
      holding.value = false
      held = true
      on.hold?.()?.()
    },
    HOLD,
    { immediate: false },
  )
  const single = useTimeoutFn(on.tap, TWICE_WITHIN, { immediate: false })
  onScopeDispose(() => {
    hold.stop()
    single.stop()
  })

  function end() {
    holding.value = false
    hold.stop()
  }
  return {
    holding,
    handlers: {
      pointerdown(event: PointerEvent) {
        held = false
        if (event.button !== 0 || !on.hold?.()) return
        from = { x: event.clientX, y: event.clientY }
        holding.value = true
        hold.start()
      },
      pointermove(event: PointerEvent) {
        if (holding.value && from && Math.hypot(event.clientX - from.x, event.clientY - from.y) > WANDERS) end()
      },
      pointerup: end,
      pointercancel: end,
      pointerleave: end,
      contextmenu(event: Event) {
        if (!on.hold?.()) return
        event.preventDefault()
        if (!held && !hold.isPending.value) on.hold()?.() // by the menu key
      },
      click(event: MouseEvent) {
        if (held) {
          held = false // it was a hold: what follows it is no tap
          return
        }
        const double = on.double?.()
        if (!double) return on.tap()
        if (event.shiftKey || single.isPending.value) {
          single.stop()
          return double()
        }
        single.start()
      },
    },
  }
}
