import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { ref } from 'vue'

/**
 * A key under a pointer: it is down for as long as the pointer is. With a time after which it is held it says what a device says
 * that tells this apart by itself (press, hold, release); without one only that it goes down and up.
 */
export function useHeld(
  heldAfter: () => number | undefined,
  gave: (gesture: 'down' | 'up' | 'press' | 'hold' | 'release') => void,
) {
  const down = ref(false)
  let held = false
  const holding = useTimeoutFn(
    () => {
      held = true
      gave('hold')
    },
    () => heldAfter() ?? 0,
    { immediate: false },
  )
  function press() {
    if (down.value) return
    down.value = true
    held = false
    if (heldAfter()) holding.start()
    else gave('down')
  }
  function lift() {
    if (!down.value) return
    down.value = false
    holding.stop()
    if (!heldAfter()) gave('up')
    else gave(held ? 'release' : 'press')
  }
  // Wherever the pointer is by then.
  useEventListener(window, ['pointerup', 'pointercancel', 'blur'], lift)
  return { down, press, lift }
}
