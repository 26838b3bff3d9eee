<script setup lang="ts" generic="T extends string">
import Popover from 'primevue/popover'
import { computed, nextTick, ref } from 'vue'
import type { Choice } from '@/lib/choice'

/** A word of a sentence that can be changed: a press opens its choices, typing narrows them. */
const props = defineProps<{
  modelValue: T | undefined
  choices: Choice<T>[]
  label: string
  empty?: string
  invalid?: boolean
  /** Makes a choice of what is typed, where it may be something that is not in the list. */
  typed?: (words: string) => T | undefined
}>()
const emit = defineEmits<{ 'update:modelValue': [T] }>()

const SEARCH_FROM = 8
const popover = ref<InstanceType<typeof Popover>>()
const list = ref<HTMLElement>()
const words = ref('')
const at = ref(0)

const chosen = computed(() => props.choices.find((c) => c.value === props.modelValue))
const searchable = computed(() => props.choices.length >= SEARCH_FROM)
const shown = computed(() => {
  const wanted = words.value.toLowerCase().split(/\s+/).filter(Boolean)
  const listed = props.choices.filter((c) =>
    wanted.every((w) => `${c.title} ${c.group ?? ''}`.toLowerCase().includes(w)),
  )
  const own = words.value ? props.typed?.(words.value) : undefined
  return own && !listed.some((c) => c.value === own) ? [{ value: own, title: own } as Choice<T>, ...listed] : listed
})

function open(event: Event) {
  words.value = ''
  at.value = Math.max(
    0,
    props.choices.findIndex((c) => c.value === props.modelValue),
  )
  popover.value?.toggle(event)
}

async function focus() {
  await nextTick()
  const first = list.value?.querySelector<HTMLElement>('input') ?? list.value
  first?.focus()
  list.value?.querySelector('.at')?.scrollIntoView({ block: 'nearest' })
}

function choose(c: Choice<T> | undefined) {
  if (!c) return
  emit('update:modelValue', c.value)
  popover.value?.hide()
}

function onKey(event: KeyboardEvent) {
  const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
  if (step) {
    event.preventDefault()
    at.value = Math.min(Math.max(0, at.value + step), shown.value.length - 1)
    void nextTick(() => list.value?.querySelector('.at')?.scrollIntoView({ block: 'nearest' }))
  } else if (event.key === 'Enter') {
    event.preventDefault()
    choose(shown.value[at.value])
  } else if (event.key === 'Escape') {
    popover.value?.hide()
  }
}
</script>

<template>
  <button
    type="button"
    class="plain token"
    :class="{ unset: !chosen, invalid }"
    :aria-label="`${label}: ${chosen?.title ?? empty ?? 'choose'}`"
    aria-haspopup="listbox"
    @click="open"
  >
    {{ chosen?.title ?? empty ?? 'choose' }}
  </button>
  <Popover ref="popover" @show="focus">
    <div ref="list" class="list" tabindex="-1" @keydown="onKey">
      <input
        v-if="searchable"
        v-model="words"
        class="words"
        :aria-label="`Search ${label}`"
        placeholder="Search"
        @input="at = 0"
      />
      <ul role="listbox" :aria-label="label">
        <template v-for="(c, i) in shown" :key="c.value">
          <li v-if="c.group && c.group !== shown[i - 1]?.group" class="group" role="presentation">{{ c.group }}</li>
          <li
            role="option"
            :aria-selected="c.value === modelValue"
            :class="{ at: i === at, chosen: c.value === modelValue }"
            @mousemove="at = i"
            @click="choose(c)"
          >
            {{ c.title }}
          </li>
        </template>
        <li v-if="!shown.length" class="soft">No match</li>
      </ul>
    </div>
  </Popover>
</template>

<style scoped>
.list {
  outline: none;
  min-width: 180px;
}
.words {
  width: 100%;
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--edge);
  padding: 3px 2px;
  margin-bottom: 6px;
}
ul {
  max-height: 320px;
  overflow-y: auto;
}
li {
  padding: 5px 8px;
  border-radius: 2px;
  cursor: pointer;
}
.group {
  font-size: 12.5px;
  color: var(--ink-soft);
  padding-top: 8px;
  cursor: default;
}
.at {
  background: var(--verdigris-wash);
}
.chosen {
  font-weight: 650;
}
</style>
