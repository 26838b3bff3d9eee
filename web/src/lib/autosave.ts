import { computed, onScopeDispose, ref, watch, type Ref } from 'vue'
import { useEdits } from '@/stores/edits'
import { canonical } from './canonical'
import type { Documents, Editable } from './documents'
import { useUndo } from './undo'

interface Source<T> {
  id: () => string
  live: () => T
  revision: () => number
}

/**
 * A working copy that is saved by itself whenever it rests, with an undo of every step that survives a reload. What
 * others save is taken over, joined with what is changed here; where both changed the same, that is asked. What cannot
 * be sent is kept in this browser and tried again, also when the page was left.
 */
export function useAutosave<K extends Editable>(kind: K, source: Source<Documents[K]>) {
  type Document = Documents[K]
  const { id, live } = source
  const edits = useEdits()
  const copy = ref<Document>() as Ref<Document | undefined>
  /** What the copy was before it was changed here. */
  let basis: Document | undefined
  /** The newest revision that is known of here: what is told of older ones comes late. */
  let newest = 0
  const clone = (document: Document | undefined) =>
    document === undefined ? undefined : (JSON.parse(JSON.stringify(document)) as Document)

  const key = () => `${kind}/${id()}`
  const steps = useUndo(copy, key, async (from, to) => {
    const document = await edits.direct(kind, id(), from, to)
    if (document) take(document) // else it waits, and is told once it is done
  })
  const unsent = computed(() => edits.unsent[key()])

  function take(document: Document | undefined) {
    basis = clone(document)
    steps.taken(basis)
    copy.value = clone(basis)
  }
  function open() {
    newest = source.revision()
    const kept = edits.unsent[key()]
    take(kept ? (kept.to as Document) : live())
    steps.open()
  }

  watch(key, (now, before) => {
    edits.hurry()
    edits.show(before, false)
    edits.show(now, true)
    open()
  })
  edits.show(key(), true)
  open()
  watch(live, (now) => {
    if (unsent.value || source.revision() < newest) return
    newest = source.revision()
    if (canonical(now) !== canonical(copy.value)) take(now)
  })
  const title = (document: Document) => ('title' in document ? (document.title as string) : '')
  watch(
    copy,
    (now) => {
      if (now === undefined || basis === undefined) return
      if (canonical(now) === canonical((unsent.value?.to as Document) ?? basis)) return
      edits.edit(kind, id(), title(now), basis, now)
    },
    { deep: true, flush: 'sync' },
  )
  const { off } = edits.onSaved(({ key: saved, sent, document, revision }) => {
    if (saved !== key()) return
    newest = Math.max(revision, source.revision())
    if (canonical(copy.value) !== canonical(sent)) basis = clone(sent as Document)
    else take(source.revision() > revision ? live() : (document as Document))
  })
  onScopeDispose(() => {
    off()
    edits.show(key(), false)
    edits.hurry()
  })

  const settle = (side: 'mine' | 'theirs') => async () => {
    const document = await edits.settle(key(), side)
    if (document) take(document as Document)
  }
  return {
    copy,
    saving: computed(() => {
      const state = unsent.value?.state ?? 'saved'
      return state === 'resting' ? 'saving' : state
    }),
    wrong: computed(() => unsent.value?.wrong ?? ''),
    /** What is different where another window changed the same: gone is theirs, added is mine. */
    clash: computed(() => (unsent.value?.state === 'asked' ? unsent.value.changes : undefined)),
    keepMine: settle('mine'),
    takeTheirs: settle('theirs'),
    past: steps.past,
    future: steps.future,
    undo: steps.undo,
    redo: steps.redo,
  }
}
