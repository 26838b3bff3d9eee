import type { Ref } from 'vue'

interface Steps {
  past: Ref<unknown[]>
  future: Ref<unknown[]>
  undo: () => void
  redo: () => void
}

/**
 * Ctrl Z and Ctrl Shift Z for an editor. In a field that is typed in they are the browser's own, unless the editor has
 * every letter in its steps.
 */
export function undoKeys(steps: Steps, inFields = false): (event: KeyboardEvent) => void {
  return (event) => {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
    if (!inFields && ['INPUT', 'TEXTAREA'].includes((event.target as HTMLElement).tagName)) return
    const [from, go] = event.shiftKey ? [steps.future, steps.redo] : [steps.past, steps.undo]
    if (!from.value.length) return
    event.preventDefault()
    event.stopPropagation()
    go()
  }
}
