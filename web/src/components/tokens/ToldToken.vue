<script setup lang="ts">
import Popover from 'primevue/popover'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { ExpressionWord, Told } from '@/api/types'
import { readable } from '@/lib/expressions'
import { useHome } from '@/stores/home'
import CodeText from '@/components/rule/CodeText.vue'

/** A text of a sentence that may have values in it: typed by names within braces, with what it says now. */
const props = defineProps<{
  modelValue: string | undefined
  label: string
  empty: string
  maximum: number
  help?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [string] }>()
const home = useHome()

const popover = ref<InstanceType<typeof Popover>>()
const typed = ref('')
const view = ref<Told>()
const words = ref<ExpressionWord[]>([])

const shown = computed(() => props.modelValue && readable(props.modelValue, home))
const tooLong = computed(() => typed.value.length > props.maximum)

let asked = 0
watch(typed, async (text) => {
  const mine = ++asked
  const answer = text.includes('{')
    ? await ask(api.POST('/api/texts', { body: { text } })).catch(() => undefined)
    : undefined
  if (mine === asked) view.value = answer
})

async function open(event: Event) {
  typed.value = props.modelValue ?? ''
  popover.value?.toggle(event)
  if (!words.value.length) words.value = await ask(api.GET('/api/expressions/words')).catch(() => [])
}
function take() {
  if (tooLong.value) return
  emit('update:modelValue', typed.value.replace(/\s+/g, ' ').trim())
  popover.value?.hide()
}
</script>

<template>
  <button
    type="button"
    class="plain token"
    :class="{ unset: !modelValue }"
    :aria-label="`${label}: ${shown || empty}`"
    @click="open"
  >
    {{ shown ? `“${shown}”` : empty }}
  </button>
  <Popover ref="popover">
    <form class="form" @submit.prevent="take">
      <CodeText v-model="typed" told :label="label" :problems="view?.problems ?? []" :words="words" @take="take" />
      <p class="now" role="status">
        <span v-if="tooLong" class="wrong">At most {{ maximum }} characters; these are {{ typed.length }}.</span>
        <span v-else-if="view?.problems.length" class="wrong">{{ view.problems[0]!.message }}</span>
        <template v-else-if="view">now: “{{ view.text }}”</template>
      </p>
      <p class="end">
        <span class="soft">{{ help }} Type { to put in a value by its name.</span>
        <button type="submit" class="plain link" :disabled="tooLong">Set</button>
      </p>
    </form>
  </Popover>
</template>

<style scoped>
.form {
  width: min(520px, 84vw);
}
.now {
  margin: var(--space-6) 0 0;
  font-size: var(--type-small);
  min-height: 21px;
}
.wrong {
  color: var(--ember);
}
.end {
  display: flex;
  gap: var(--space-16);
  justify-content: space-between;
  margin: var(--space-8) 0 0;
  font-size: var(--type-small);
}
</style>
