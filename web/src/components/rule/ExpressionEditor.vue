<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue'
import type { EditorView } from '@codemirror/view'
import { api, ask } from '@/api/client'
import type { Expression } from '@/api/types'
import { cameTo, idsIn, offers } from '@/lib/expressions'
import { useHome } from '@/stores/home'

/** An expression while it is typed: names in the place of ids, what is offered, what is wrong, and what it comes to now. */
const text = defineModel<string>({ required: true })
const props = defineProps<{ label: string }>()
const emit = defineEmits<{ checked: [ok: boolean]; take: [] }>()
const home = useHome()

const place = useTemplateRef('place')
const view = ref<Expression>()
let editor: EditorView | undefined
let showMistakes: (() => void) | undefined

let asked = 0
async function check() {
  const mine = ++asked
  const answer = await ask(api.POST('/api/expressions', { body: { text: text.value } })).catch(() => undefined)
  if (mine !== asked) return // typed on meanwhile
  view.value = answer
  emit('checked', !answer?.problems.length && !!text.value.trim())
  showMistakes?.()
}

onMounted(async () => {
  const [cm, { EditorState, RangeSetBuilder }, lint, commands, complete, language] = await Promise.all([
    import('@codemirror/view'),
    import('@codemirror/state'),
    import('@codemirror/lint'),
    import('@codemirror/commands'),
    import('@codemirror/autocomplete'),
    import('@codemirror/language'),
  ])
  const words = await ask(api.GET('/api/expressions/words')).catch(() => [])
  if (!place.value) return
  const names = () => ({ everything: home.everything, groups: home.groups, rooms: home.rooms, modes: home.modes })

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
  const offered = offers(words, names()).map((o) => ({ ...o, type: 'variable' }))

  editor = new cm.EditorView({
    parent: place.value,
    state: EditorState.create({
      doc: text.value,
      extensions: [
        commands.history(),
        shown,
        language.bracketMatching(),
        cm.EditorView.lineWrapping,
        complete.autocompletion({
          override: [
            (context) => {
              const word = context.matchBefore(/[\p{L}][\p{L}\d ]*$/u)
              if (!word && !context.explicit) return null
              return { from: word?.from ?? context.pos, options: offered }
            },
          ],
        }),
        cm.keymap.of([
          ...complete.completionKeymap,
          { key: 'Mod-Enter', run: () => (emit('take'), true) },
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
    const { doc } = editor.state
    editor.dispatch(
      lint.setDiagnostics(
        editor.state,
        (view.value?.problems ?? []).map((p) => {
          const line = doc.line(Math.min(p.line, doc.lines))
          const from = Math.min(line.from + p.column - 1, line.to)
          return { from, to: Math.max(from, line.to), severity: 'error', message: p.message }
        }),
      ),
    )
  }
  editor.focus()
  showMistakes()
})
onBeforeUnmount(() => editor?.destroy())
watch(text, check, { immediate: true })
</script>

<template>
  <div>
    <div ref="place" class="editor" />
    <p class="now" role="status">
      <template v-if="!text.trim()">
        Type a name, such as a device, a room or a variable; Ctrl Space offers all there is.
      </template>
      <span v-else-if="view?.problems.length" class="wrong">{{ view.problems[0]!.message }}</span>
      <template v-else-if="view"
        >comes to <b class="mono">{{ view.unknown ? 'nothing now' : cameTo(view.value) }}</b><template
          v-if="view.unknown"
          >: {{ view.unknown }}</template
        ></template
      >
    </p>
  </div>
</template>

<style scoped>
.editor {
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
  min-height: 64px;
  max-height: 220px;
  overflow: auto;
}
.editor :deep(.cm-editor) {
  font-size: 14px;
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
.editor :deep(.cm-tooltip) {
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--edge);
}
.editor :deep(.cm-tooltip-autocomplete li[aria-selected]) {
  background: var(--verdigris);
  color: var(--sheet);
}
.editor :deep(.cm-completionIcon) {
  display: none;
}
.now {
  margin: 6px 0 0;
  font-size: 14px;
  min-height: 21px;
}
.wrong {
  color: var(--ember);
}
</style>
