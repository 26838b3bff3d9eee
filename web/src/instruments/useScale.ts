import { useElementSize } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import { nearest, placeOn, ticks } from './scale'

/** A scale from its least to its greatest value, by steps, with what is set further by keys. */
export interface Scale {
  minimum: number
  maximum: number
  step: number
  size: 'row' | 'page' | 'panel'
  disabled: boolean
}

const MARGIN = 10
/** By how much of the scale a page key moves. */
const PAGE = 10

/** What all scales have: their graduation, where a value stands, and being dragged and moved by keys. The face in the template
 * is its ref named face. */
export function useScale(scale: () => Scale, aimed: () => number, set: (value: number) => void) {
  const face = useTemplateRef<SVGSVGElement>('face')
  const { width } = useElementSize(face)
  /** On a panel everything is drawn larger. */
  const larger = computed(() => (scale().size === 'panel' ? 1.5 : 1))
  const wide = computed(() => Math.max(width.value, 60) / larger.value)
  const x = (value: number) => placeOn(value, scale().minimum, scale().maximum, MARGIN, wide.value - MARGIN)
  const marks = computed(() => ticks(scale().minimum, scale().maximum))

  const to = (value: number) => set(nearest(value, scale().minimum, scale().maximum, scale().step))
  const dragging = ref(false)
  function point(event: PointerEvent) {
    if (!dragging.value) return
    const box = face.value!.getBoundingClientRect()
    const margin = MARGIN * larger.value
    const share = (event.clientX - box.left - margin) / (box.width - 2 * margin)
    to(scale().minimum + share * (scale().maximum - scale().minimum))
  }
  function press(event: PointerEvent) {
    if (scale().disabled || event.button !== 0) return
    dragging.value = true
    face.value!.setPointerCapture(event.pointerId)
    point(event)
  }
  function key(event: KeyboardEvent) {
    const { minimum, maximum, step, disabled } = scale()
    if (disabled) return
    const page = Math.max(step, (maximum - minimum) / PAGE)
    const moves: Record<string, number> = {
      ArrowRight: aimed() + step,
      ArrowUp: aimed() + step,
      ArrowLeft: aimed() - step,
      ArrowDown: aimed() - step,
      PageUp: aimed() + page,
      PageDown: aimed() - page,
      Home: minimum,
      End: maximum,
    }
    const next = moves[event.key]
    if (next === undefined) return
    event.preventDefault()
    to(next)
  }
  const released = () => (dragging.value = false)
  return { wide, x, marks, dragging, press, point, released, key }
}
