<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { ExpressionWord, Script } from '@/api/types'
import CodeText from '../CodeText.vue'

/** A script while it is typed, with what it would do now. */
const text = defineModel<string>({ required: true })
const emit = defineEmits<{ take: [] }>()

const view = ref<Script>()
const words = ref<ExpressionWord[]>([])
onMounted(async () => (words.value = await ask(api.GET('/api/scripts/words')).catch(() => [])))

let asked = 0
async function check() {
  const mine = ++asked
  const answer = await ask(api.POST('/api/scripts', { body: { text: text.value } })).catch(() => undefined)
  if (mine === asked) view.value = answer
}
watch(text, check, { immediate: true })

const wrong = computed(() => view.value?.problems[0] ?? view.value?.failed)
const problems = computed(() => [...(view.value?.problems ?? []), ...(view.value?.failed ? [view.value.failed] : [])])
</script>

<template>
  <div>
    <CodeText v-model="text" label="Script" :problems="problems" :words="words" script @take="emit('take')" />
    <div class="now" role="status">
      <p v-if="!text.trim()">
        In Starlark: <code class="mono">set("device", "property", value)</code> sets, <code class="mono">value(…)</code>
        reads. Type the name of a device; Ctrl Space offers all there is.
      </p>
      <p v-else-if="wrong" class="wrong">
        <template v-if="view?.failed">It would fail now, at line </template><template v-else>Line </template
        >{{ wrong.line }}: {{ wrong.message }}
      </p>
      <template v-else-if="view">
        <p v-if="!view.does.length" class="soft">It would do nothing now.</p>
        <template v-else>
          <p class="soft">It would now, all at once:</p>
          <ul>
            <li v-for="(d, i) in view.does.slice(0, 8)" :key="i">{{ d }}</li>
            <li v-if="view.does.length > 8" class="soft">and {{ view.does.length - 8 }} more</li>
          </ul>
        </template>
      </template>
      <p v-for="(line, i) in view?.said.slice(0, 8)" :key="i" class="mono said">{{ line }}</p>
    </div>
  </div>
</template>

<style scoped>
.now {
  margin-top: var(--space-6);
  font-size: var(--type-small);
  min-height: 42px;
}
.now p {
  margin: 0 0 var(--space-4);
}
.now ul {
  margin: 0 0 var(--space-4);
  padding-left: var(--space-16);
}
.said {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.wrong {
  color: var(--ember);
}
</style>
