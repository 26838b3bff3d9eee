import { usePreferredReducedMotion } from '@vueuse/core'
import { useDraggable, type UseDraggableOptions } from 'vue-draggable-plus'
import type { Ref } from 'vue'

type Options = Pick<
  UseDraggableOptions<unknown>,
  'handle' | 'draggable' | 'group' | 'ghostClass' | 'fallbackOnBody' | 'invertSwap' | 'emptyInsertThreshold'
>
export interface Dragged {
  from: HTMLElement
  oldIndex: number
  to: HTMLElement
  newIndex: number
}

/**
 * Lets what is in a list be dragged to another place, also of another list of the same group. The page is drawn from
 * a document: what was dragged goes back to where it stood, to the very node before which it was, and the document
 * moves it.
 */
export function useListDrag(list: Readonly<Ref<HTMLElement | null>>, options: Options, moved: (to: Dragged) => void) {
  let behind: Node | null = null
  useDraggable(list, {
    animation: usePreferredReducedMotion().value === 'reduce' ? 0 : 120,
    ...options,
    onStart: ({ item }) => (behind = item.nextSibling),
    onEnd: ({ item, from, to, oldDraggableIndex, newDraggableIndex }) => {
      from.insertBefore(item, behind)
      if (oldDraggableIndex === undefined || newDraggableIndex === undefined) return
      if (from === to && oldDraggableIndex === newDraggableIndex) return
      moved({ from, oldIndex: oldDraggableIndex, to, newIndex: newDraggableIndex })
    },
  })
}
