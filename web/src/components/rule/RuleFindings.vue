<script setup lang="ts">
import { ref } from 'vue'
import type { Finding } from '@/api/types'

/** What is allowed in a rule and yet hardly meant: where, why, what to do; or the owner means it so. */
defineProps<{ findings: Finding[] }>()
const emit = defineEmits<{ intend: [finding: Finding, note: string] }>()

const noting = ref('')
const note = ref('')
const keyOf = (f: Finding) => `${f.kind} ${f.path}`

/** Where it is, as the steps and conditions are numbered on the page. */
function place(path: string): string {
  const parts = path.replace(/\/condition.*$/, '').split('/')
  if (parts[0] !== 'do' && parts[0] !== 'afterwards')
    return { whenever: 'While', gate: 'Only while' }[parts[0]!] ?? 'Provided'
  const numbers = parts.filter((p) => /^\d+$/.test(p)).map((p) => Number(p) + 1)
  return `Step ${parts[0] === 'afterwards' ? 'after ' : ''}${numbers.join('.')}`
}
function intend(f: Finding) {
  emit('intend', f, note.value.trim())
  noting.value = note.value = ''
}
</script>

<template>
  <section class="findings" aria-label="Probably a mistake">
    <p v-for="f in findings" :key="keyOf(f)">
      <b>{{ place(f.path) }}:</b> {{ f.message }} <span class="soft">{{ f.advice }}</span>
      <template v-if="noting === keyOf(f)">
        <form class="note" @submit.prevent="intend(f)">
          <input
            v-model="note"
            placeholder="Why, for you in some weeks"
            aria-label="Why this is intended"
            maxlength="500"
          />
          <button type="submit" class="plain link">Save</button>
        </form>
      </template>
      <button v-else type="button" class="plain link small" @click="noting = keyOf(f)">This is intended</button>
    </p>
  </section>
</template>

<style scoped>
.findings {
  margin-top: var(--space-12);
  padding: var(--space-8) var(--space-12);
  border-left: 3px solid var(--ochre);
  background: var(--sheet);
}
p + p {
  margin-top: var(--space-6);
}
.note {
  display: flex;
  gap: var(--space-12);
  margin-top: var(--space-4);
}
.note input {
  flex: 1;
  background: var(--paper);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  padding: var(--space-4) var(--space-8);
}
.small {
  font-size: var(--type-small);
}
</style>
