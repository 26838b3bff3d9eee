<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Expression, ExpressionWord } from '@/api/types'
import { cameTo } from '@/lib/expressions'
import CodeText from './CodeText.vue'

/** An expression while it is typed, with what it comes to now. */
const text = defineModel<string>({ required: true })
defineProps<{ label: string }>()
const emit = defineEmits<{ checked: [ok: boolean]; take: [] }>()

const view = ref<Expression>()
const words = ref<ExpressionWord[]>([])
onMounted(async () => (words.value = await ask(api.GET('/api/expressions/words')).catch(() => [])))

let asked = 0
async function check() {
  const mine = ++asked
  const answer = await ask(api.POST('/api/expressions', { body: { text: text.value } })).catch(() => undefined)
  if (mine !== asked) return // typed on meanwhile
  view.value = answer
  emit('checked', !answer?.problems.length && !!text.value.trim())
}
watch(text, check, { immediate: true })
</script>

<template>
  <div>
    <CodeText
      v-model="text"
      :label="label"
      :problems="text.trim() ? (view?.problems ?? []) : []"
      :words="words"
      @take="emit('take')"
    />
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
.now {
  margin: var(--space-6) 0 0;
  font-size: var(--type-small);
  min-height: 21px;
}
.wrong {
  color: var(--ember);
}
</style>
