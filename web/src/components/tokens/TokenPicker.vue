<script setup lang="ts" generic="T extends string">
import Popover from 'primevue/popover'
import { computed, ref } from 'vue'
import { narrowed, type Choice } from '@/lib/choice'
import { recentFirst, useRecent } from '@/lib/recent'
import ChoiceList from '@/components/inputs/ChoiceList.vue'

/** A word of a sentence that can be changed: a press opens its choices, typing narrows them. */
const props = defineProps<{
  modelValue: T | undefined
  choices: Choice<T>[]
  label: string
  empty?: string
  invalid?: boolean
  /** Whether nothing is missing where nothing is chosen: a press does something. */
  verb?: boolean
  /** Whether what was chosen lately comes first. */
  lately?: boolean
  /** Makes a choice of what is typed, where it may be something that is not in the list. */
  typed?: (words: string) => T | undefined
}>()
const emit = defineEmits<{ 'update:modelValue': [T] }>()

const SEARCH_FROM = 8
const popover = ref<InstanceType<typeof Popover>>()
const words = ref('')
const { recent, remember } = useRecent()
const before = ref<string[]>([]) // as the list was opened: it stays as it is while it is read

const chosen = computed(() => props.choices.find((c) => c.value === props.modelValue))
/** What is read stands in the name that is heard (WCAG 2.2, 2.5.3). */
const named = computed(() => {
  const read = chosen.value?.title ?? props.empty ?? 'choose'
  return props.verb && props.label.toLowerCase().includes(read.toLowerCase()) ? props.label : `${props.label}: ${read}`
})
const shown = computed(() => {
  const listed = narrowed(recentFirst(props.choices, before.value), words.value)
  const own = words.value ? props.typed?.(words.value) : undefined
  return own && !listed.some((c) => c.value === own) ? [{ value: own, title: own } as Choice<T>, ...listed] : listed
})

function open(event: Event) {
  words.value = ''
  before.value = props.lately ? recent.value : []
  popover.value?.toggle(event)
}
function choose(value: T) {
  emit('update:modelValue', value)
  if (props.lately) remember(value)
  popover.value?.hide()
}
</script>

<template>
  <button
    type="button"
    class="plain token"
    :class="{ unset: !chosen && !verb, invalid }"
    :aria-label="named"
    aria-haspopup="listbox"
    @click="open"
  >
    {{ chosen?.title ?? empty ?? 'choose' }}
  </button>
  <Popover ref="popover">
    <ChoiceList
      v-model:words="words"
      :choices="shown"
      :chosen="modelValue"
      :label="label"
      :searchable="choices.length >= SEARCH_FROM"
      @choose="choose"
    />
  </Popover>
</template>
