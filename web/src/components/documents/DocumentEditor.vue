<script setup lang="ts">
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import type { EditorView } from '@codemirror/view'
import { diagnosticsOf, type Mark } from '@/lib/marks'
import { nonce } from '@/lib/nonce'

/** A JSON or YAML text with what is wrong marked at its place. The editor is loaded when it is first shown. */
const text = defineModel<string>({ required: true })
const props = defineProps<{ marks: Mark[]; label: string; readonly?: boolean; language?: 'json' | 'yaml' }>()
const place = useTemplateRef('place')
let view: EditorView | undefined
let showMarks: (() => void) | undefined

onMounted(async () => {
  const [{ EditorView, keymap, lineNumbers, highlightActiveLine }, { EditorState }, spoken, lint, commands, language] =
    await Promise.all([
      import('@codemirror/view'),
      import('@codemirror/state'),
      props.language === 'yaml'
        ? import('@codemirror/lang-yaml').then((m) => m.yaml())
        : import('@codemirror/lang-json').then((m) => m.json()),
      import('@codemirror/lint'),
      import('@codemirror/commands'),
      import('@codemirror/language'),
    ])
  if (!place.value) return
  view = new EditorView({
    parent: place.value,
    state: EditorState.create({
      doc: text.value,
      extensions: [
        lineNumbers(),
        highlightActiveLine(),
        commands.history(),
        spoken,
        language.bracketMatching(),
        language.indentUnit.of('  '),
        // Escape leaves the editor, so that Tab may indent and the keyboard is never caught.
        keymap.of([
          { key: 'Escape', run: (v) => (v.contentDOM.blur(), true) },
          ...commands.defaultKeymap,
          ...commands.historyKeymap,
        ]),
        lint.lintGutter(),
        EditorState.readOnly.of(!!props.readonly),
        EditorView.cspNonce.of(nonce),
        EditorView.contentAttributes.of({ 'aria-label': props.label, tabindex: '0' }),
        EditorView.updateListener.of((u) => {
          if (u.docChanged) text.value = u.state.doc.toString()
        }),
      ],
    }),
  })
  showMarks = () => {
    if (!view) return
    view.dispatch(lint.setDiagnostics(view.state, diagnosticsOf(view.state.doc, props.marks)))
  }
  showMarks()
})
onBeforeUnmount(() => view?.destroy())

watch(
  () => props.marks,
  () => showMarks?.(),
)
watch(text, (now) => {
  if (view && view.state.doc.toString() !== now)
    view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: now } })
})
</script>

<template>
  <div ref="place" class="editor" />
</template>

<style scoped>
.editor {
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
  height: 420px;
  overflow: auto;
}
.editor :deep(.cm-editor) {
  height: 100%;
  font-size: var(--type-small);
}
.editor :deep(.cm-scroller) {
  font-family: var(--mono);
}
.editor :deep(.cm-gutters) {
  background: var(--paper);
  color: var(--ink-soft);
  border-right: 1px solid var(--rule);
}
/* As a picture, not a color: of lines that are joined Chromium writes the background's color into a style attribute, which the
   content security policy refuses. */
.editor :deep(.cm-activeLine),
.editor :deep(.cm-activeLineGutter) {
  background: linear-gradient(var(--verdigris-wash), var(--verdigris-wash));
}
.editor :deep(.cm-cursor) {
  border-left-color: var(--ink);
}
.editor :deep(.cm-tooltip) {
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--edge);
}
</style>
