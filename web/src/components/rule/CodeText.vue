<script setup lang="ts">
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import type { EditorView } from '@codemirror/view'
import type { ExpressionWord, Mistake } from '@/api/types'
import { deeds, idsIn, offers } from '@/lib/expressions'
import { diagnosticsOf } from '@/lib/marks'
import { useHome } from '@/stores/home'
import { nonce } from '@/lib/nonce'

/** A text in one of the languages of rules while it is typed: names in the place of ids, what is offered, what is wrong where. */
const text = defineModel<string>({ required: true })
const props = defineProps<{
  label: string
  problems: Mistake[]
  words: ExpressionWord[]
  /** Whether it is a program of several lines, that also does things. */
  script?: boolean
  /** Whether it is words, in which expressions stand in braces. */
  told?: boolean
}>()
const emit = defineEmits<{ take: [] }>()
const home = useHome()

/** Whether what comes next in a text stands in braces: a brace twice is that brace. */
const inBraces = (before: string) => /(^|[^{])(\{\{)*\{[^{}]*$/.test(before)

const place = useTemplateRef('place')
const offered = useTemplateRef('offered')
let editor: EditorView | undefined
let showMistakes: (() => void) | undefined

onMounted(async () => {
  const [cm, { EditorState, RangeSetBuilder }, lint, commands, complete, language] = await Promise.all([
    import('@codemirror/view'),
    import('@codemirror/state'),
    import('@codemirror/lint'),
    import('@codemirror/commands'),
    import('@codemirror/autocomplete'),
    import('@codemirror/language'),
  ])
  if (!place.value) return
  const names = () => ({
    everything: home.everything,
    groups: home.groups,
    rooms: home.rooms,
    modes: home.modes,
    scenes: home.scenes,
    rules: home.rules,
  })

  class Name extends cm.WidgetType {
    constructor(readonly title: string) {
      super()
    }
    override eq(other: Name) {
      return other.title === this.title
    }
    toDOM() {
      const span = document.createElement('span')
      span.className = 'name'
      span.textContent = this.title
      return span
    }
  }
  const decorated = (v: EditorView) => {
    const builder = new RangeSetBuilder<ReturnType<typeof cm.Decoration.replace>>()
    for (const id of idsIn(v.state.doc.toString(), names()))
      builder.add(id.from, id.to, cm.Decoration.replace({ widget: new Name(id.title) }))
    return builder.finish()
  }
  const shown = cm.ViewPlugin.fromClass(
    class {
      decorations: ReturnType<typeof decorated>
      constructor(v: EditorView) {
        this.decorations = decorated(v)
      }
      update(u: { docChanged: boolean; view: EditorView }) {
        if (u.docChanged) this.decorations = decorated(u.view)
      }
    },
    {
      decorations: (p) => p.decorations,
      provide: (p) => cm.EditorView.atomicRanges.of((v) => v.plugin(p)?.decorations ?? cm.Decoration.none),
    },
  )

  editor = new cm.EditorView({
    parent: place.value,
    state: EditorState.create({
      doc: text.value,
      extensions: [
        commands.history(),
        shown,
        language.bracketMatching(),
        props.told ? complete.closeBrackets() : [],
        language.indentUnit.of('    '),
        props.script ? cm.lineNumbers() : [],
        cm.EditorView.cspNonce.of(nonce),
        cm.EditorView.lineWrapping,
        cm.tooltips({ position: 'absolute', parent: offered.value ?? undefined }),
        complete.autocompletion({
          override: [
            (context) => {
              if (props.told && !inBraces(context.state.sliceDoc(0, context.pos))) return null
              const word = context.matchBefore(/[\p{L}][\p{L}\d ]*$/u)
              if (!word && !context.explicit) return null
              return {
                from: word?.from ?? context.pos,
                options: [...(props.script ? deeds(names()) : []), ...offers(props.words, names())].map((o) => ({
                  ...o,
                  type: 'variable',
                })),
              }
            },
          ],
        }),
        cm.keymap.of([
          ...complete.completionKeymap,
          { key: 'Mod-Enter', run: () => (emit('take'), true) },
          ...(props.told ? [{ key: 'Enter', run: () => (emit('take'), true) }] : []),
          ...(props.script ? [{ key: 'Tab', run: commands.insertTab, shift: commands.indentLess }] : []),
          ...commands.defaultKeymap,
          ...commands.historyKeymap,
        ]),
        cm.EditorView.contentAttributes.of({ 'aria-label': props.label }),
        cm.EditorView.updateListener.of((u) => {
          if (u.docChanged) text.value = u.state.doc.toString()
        }),
      ],
    }),
  })
  showMistakes = () => {
    if (!editor) return
    editor.dispatch(lint.setDiagnostics(editor.state, diagnosticsOf(editor.state.doc, props.problems)))
  }
  editor.focus()
  showMistakes()
})
onBeforeUnmount(() => editor?.destroy())
watch(
  () => props.problems,
  () => showMistakes?.(),
)
</script>

<template>
  <div class="code">
    <div ref="place" class="editor" />
    <!-- What is offered opens out here, since the editor scrolls. -->
    <div ref="offered" />
  </div>
</template>

<style scoped>
.code {
  position: relative;
}
.editor {
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
  min-height: 64px;
  max-height: min(46vh, 460px);
  overflow: auto;
}
.editor :deep(.cm-editor) {
  font-size: var(--type-small);
  min-height: 62px;
}
.editor :deep(.cm-scroller) {
  font-family: var(--mono);
}
.editor :deep(.cm-focused) {
  outline: 2px solid var(--verdigris);
}
.editor :deep(.cm-cursor) {
  border-left-color: var(--ink);
}
.editor :deep(.name) {
  font-family: var(--sans);
  border-bottom: 2px solid var(--verdigris);
}
.code :deep(.cm-tooltip) {
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--edge);
}
.code :deep(.cm-tooltip-autocomplete li[aria-selected]) {
  background: var(--verdigris);
  color: var(--sheet);
}
.editor :deep(.cm-gutters) {
  background: var(--sheet);
  color: var(--ink-soft);
  border-right: 1px solid var(--rule);
}
.code :deep(.cm-tooltip-autocomplete ul) {
  font-family: var(--sans);
}
.code :deep(.cm-completionIcon) {
  display: none;
}
</style>
