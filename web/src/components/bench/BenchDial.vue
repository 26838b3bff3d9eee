<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'

/** A pretend dial: turned by dragging around it, or by the arrow keys. */
const emit = defineEmits<{ turn: [number] }>()

/** The dial has so many notches all around. */
const NOTCHES = 24
const DEGREES = 360
const element = ref<HTMLElement>()
const angle = ref(0)
let last: number | undefined
let rest = 0

const at = (e: PointerEvent) => {
  const box = element.value!.getBoundingClientRect()
  return (
    (Math.atan2(e.clientY - box.top - box.height / 2, e.clientX - box.left - box.width / 2) * DEGREES) / 2 / Math.PI
  )
}
function turn(notches: number) {
  angle.value += (notches * DEGREES) / NOTCHES
  emit('turn', notches)
}
function grasp(e: PointerEvent) {
  last = at(e)
  rest = 0
}
useEventListener(window, 'pointermove', (e: PointerEvent) => {
  if (last === undefined) return
  const now = at(e)
  rest += ((now - last + DEGREES + DEGREES / 2) % DEGREES) - DEGREES / 2
  last = now
  const notches = Math.trunc((rest * NOTCHES) / DEGREES)
  if (!notches) return
  rest -= (notches * DEGREES) / NOTCHES
  turn(notches)
})
useEventListener(window, ['pointerup', 'pointercancel', 'blur'], () => (last = undefined))
const STEPS: Record<string, number> = {
  ArrowRight: 1,
  ArrowUp: 1,
  ArrowLeft: -1,
  ArrowDown: -1,
  PageUp: 10,
  PageDown: -10,
}
function key(e: KeyboardEvent) {
  const step = STEPS[e.key]
  if (!step) return
  e.preventDefault()
  turn(step)
}
</script>

<template>
  <span class="dial">
    <span
      ref="element"
      class="knob"
      role="spinbutton"
      tabindex="0"
      aria-label="Dial"
      :aria-valuenow="Math.round((angle * NOTCHES) / DEGREES)"
      title="Drag around it; arrow keys turn it by a notch, Page up and down by ten"
      :style="{ '--angle': `${angle}deg` }"
      @pointerdown="grasp"
      @keydown="key"
    />
    <button type="button" class="plain link" @click="turn(-10)">10 left</button>
    <button type="button" class="plain link" @click="turn(10)">10 right</button>
  </span>
</template>

<style scoped>
.dial {
  display: flex;
  gap: var(--space-14);
  align-items: center;
}
.knob {
  position: relative;
  width: 56px;
  height: 56px;
  border: 2px solid var(--ink);
  border-radius: 50%;
  background: var(--sheet);
  cursor: grab;
  touch-action: none;
}
.knob::after {
  content: '';
  position: absolute;
  left: calc(50% - 1px);
  top: 50%;
  width: 2px;
  height: 24px;
  background: var(--verdigris);
  transform-origin: top center;
  transform: rotate(calc(var(--angle) + 180deg));
}
</style>
