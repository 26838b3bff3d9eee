<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { ref, watch } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { RuleDocument } from '@/api/types'
import { canonical } from '@/lib/canonical'
import type { Mark } from '@/lib/marks'
import DocumentEditor from '@/components/documents/DocumentEditor.vue'

/** The same rule as YAML, beside the sentences: what is changed in either is changed in the other. */
const draft = defineModel<RuleDocument>({ required: true })
defineEmits<{ close: [] }>()
const text = ref('')
const marks = ref<Mark[]>([])
const failed = ref('')
/** What the text was when it last was the draft, so that neither side is written over by its own echo. */
let agreed = ''
let agreedDraft = ''
/** Whether something was typed that is not read yet: it must not be written over. */
let unread = false

async function tell() {
  const now = canonical(draft.value)
  if (now === agreedDraft) return
  agreedDraft = now
  try {
    const told = await ask(api.POST('/api/rules/text', { body: draft.value }))
    if (now !== canonical(draft.value) || unread) return
    agreed = told.text
    text.value = told.text
    marks.value = []
    failed.value = ''
  } catch (error) {
    failed.value = reasonOf(error)
  }
}
watch(draft, tell, { deep: true, immediate: true })

let asked = 0
async function read() {
  const mine = ++asked
  const typed = text.value
  try {
    const answer = await ask(api.POST('/api/rules/read', { body: { text: typed } }))
    if (mine !== asked) return
    unread = false
    marks.value = answer.mistakes
    failed.value = ''
    if (!answer.document) return
    agreed = typed
    agreedDraft = canonical(answer.document)
    draft.value = answer.document
  } catch (error) {
    if (mine !== asked) return
    unread = false
    failed.value = reasonOf(error)
  }
}
watch(text, (now) => (unread = now !== agreed), { flush: 'sync' })
watchDebounced(
  text,
  (now) => {
    if (now !== agreed) void read()
  },
  { debounce: 300 },
)
</script>

<template>
  <section class="text" aria-label="The rule as text">
    <header>
      <h2>As text</h2>
      <span class="soft small"
        >YAML, or JSON. Its fields are told by
        <a class="link" href="/api/schemas/rule" target="_blank">the schema</a>.</span
      >
      <button type="button" class="plain soft close" aria-label="Close the text" @click="$emit('close')">×</button>
    </header>
    <DocumentEditor v-model="text" :marks="marks" label="The rule as YAML" language="yaml" />
    <p class="small" role="status">
      <span v-if="failed" class="wrong">{{ failed }}</span>
      <span v-else-if="marks.length" class="wrong">Line {{ marks[0]!.line }}: {{ marks[0]!.message }}</span>
      <span v-else class="soft">Nothing is wrong with it.</span>
    </p>
  </section>
</template>

<style scoped>
.text {
  margin-top: var(--space-14);
}
header {
  display: flex;
  gap: var(--space-14);
  align-items: baseline;
  margin-bottom: var(--space-6);
}
h2 {
  color: var(--ink);
}
.close {
  margin-left: auto;
  font-size: var(--type-head);
}
.small {
  font-size: var(--type-small);
}
.wrong {
  color: var(--ember);
}
</style>
