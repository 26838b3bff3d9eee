<script setup lang="ts" generic="T extends string">
import { FilterService } from '@primevue/core/api'
import Listbox from 'primevue/listbox'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import type { Choice } from '@/lib/choice'

/** A list to choose one of, by pointer or keys. What is typed is given to whoever narrows the choices by it. */
const props = defineProps<{
  /** Those that are listed now. */
  choices: Choice<T>[]
  chosen?: T
  label: string
  /** Whether there is a field to type words in. */
  searchable?: boolean
  placeholder?: string
  /** What the field is called; Search and the label where it is absent. */
  searchLabel?: string
  /** What is said where no choice is left. */
  none?: string
}>()
const words = defineModel<string>('words', { default: '' })
const emit = defineEmits<{ choose: [T] }>()

// Whoever gives the choices has narrowed them already.
FilterService.register('given', () => true)

/** From how many choices on only those in view are drawn, at one height each. */
const WINDOW_FROM = 150
const ROW = 32

interface Group {
  label: string
  items: Choice<T>[]
}
const grouped = computed(() => props.choices.some((c) => c.group))
const groups = computed(() => {
  const list: Group[] = []
  for (const c of props.choices) {
    const label = c.group ?? ''
    if (list.at(-1)?.label !== label) list.push({ label, items: [] })
    list.at(-1)!.items.push(c)
  }
  return list
})
const options = computed<(Group | Choice<T>)[]>(() => (grouped.value ? groups.value : props.choices))
const window = computed(() => (props.choices.length >= WINDOW_FROM ? { itemSize: ROW } : undefined))

/** What of PrimeVue's list is used here besides its properties. */
interface List {
  $el: HTMLElement
  focusedOptionIndex: number
  filterValue: string | null
  scrollInView: (index: number) => void
}
const list = ref<List>()

/** Where a choice stands in the list, where each heading counts as well. */
function placeOf(value: T | undefined): number {
  if (!grouped.value) return props.choices.findIndex((c) => c.value === value)
  let before = 0
  for (const group of groups.value) {
    const at = group.items.findIndex((c) => c.value === value)
    if (at >= 0) return before + 1 + at
    before += group.items.length + 1
  }
  return -1
}
/** Puts the pointer of the keys on a choice, or the first, so that Enter takes it while words are typed. */
async function pointTo(value?: T) {
  await nextTick()
  if (!list.value) return
  const at = placeOf(value)
  list.value.focusedOptionIndex = at >= 0 ? at : placeOf(props.choices[0]?.value)
  list.value.scrollInView(list.value.focusedOptionIndex)
}
watch([words, () => props.choices.length], () => words.value && pointTo())
/** Has the field say what was typed before it was there, so that typing goes on behind it. */
function sayWords() {
  if (list.value && (list.value.filterValue ?? '') !== words.value) list.value.filterValue = words.value
}
watch(words, sayWords)

onMounted(async () => {
  sayWords()
  await nextTick()
  const field = list.value?.$el.querySelector<HTMLElement>('input')
  ;(field ?? list.value?.$el.querySelector<HTMLElement>('[role=listbox]'))?.focus()
  if (field) void pointTo(props.chosen)
  // What opened does not shrink as words are typed: it would leave the place that it points to.
  if (field && list.value) list.value.$el.style.minHeight = `${list.value.$el.offsetHeight}px`
})

/** The pointer of the mouse and that of the keys are one. */
function onMove(event: MouseEvent) {
  const option = (event.target as HTMLElement).closest('.p-listbox-option')
  const at = Number(/_(\d+)$/.exec(option?.id ?? '')?.[1] ?? -1)
  if (list.value && at >= 0) list.value.focusedOptionIndex = at
}

/** A choice that is chosen again stays so. */
const choose = (value: T | null) => emit('choose', value ?? props.chosen!)
</script>

<template>
  <Listbox
    ref="list"
    class="choices"
    :class="{ windowed: window }"
    :model-value="chosen"
    :options="options"
    option-label="title"
    option-value="value"
    :option-group-label="grouped ? 'label' : undefined"
    :option-group-children="grouped ? 'items' : undefined"
    :filter="searchable"
    filter-match-mode="given"
    :filter-placeholder="placeholder ?? 'Search'"
    :aria-label="label"
    :virtual-scroller-options="window"
    :empty-message="none ?? 'No match'"
    :empty-filter-message="none ?? 'No match'"
    scroll-height="320px"
    :pt="{ pcFilter: { root: { 'aria-label': searchLabel ?? `Search ${label}` } } }"
    @filter="words = $event.value"
    @mousemove="onMove"
    @update:model-value="choose"
  >
    <template #optiongroup="{ option }">
      <span :class="{ unnamed: !option.label }">{{ option.label }}</span>
    </template>
    <template #option="{ option }">
      <span class="title">{{ option.title }}</span>
      <span v-if="option.note" class="soft note">{{ option.note }}</span>
    </template>
  </Listbox>
</template>

<style scoped>
.choices {
  border: 0;
  background: transparent;
  min-width: 180px;
}
.choices :deep(.p-listbox-header) {
  padding: 0 0 var(--space-6);
}
.choices :deep(.p-inputtext) {
  width: 100%;
  border-width: 0 0 1px;
  border-radius: 0;
  background: transparent;
  padding: var(--space-2);
}
.choices :deep(.p-inputicon) {
  display: none;
}
.choices :deep(.p-inputtext:focus-visible) {
  border-color: transparent;
}
.choices :deep(.p-listbox-list) {
  padding: 0;
  outline: none;
}
.choices :deep(.p-listbox-option) {
  display: flex;
  justify-content: space-between;
  gap: var(--space-16);
  padding: var(--space-4) var(--space-8);
  border-radius: 2px;
  color: inherit;
}
.choices :deep(.p-listbox-option:hover) {
  background: transparent;
  color: inherit;
}
.choices :deep(.p-listbox-option[data-p-focused='true']) {
  background: var(--verdigris-wash);
  color: inherit;
}
.choices :deep(.p-listbox-option-selected) {
  background: transparent;
  color: inherit;
  font-weight: 650;
}
.choices :deep(.p-listbox-option-group) {
  padding: var(--space-8) var(--space-8) var(--space-2);
  font-size: var(--type-note);
  font-weight: 400;
  color: var(--ink-soft);
  background: transparent;
}
.choices :deep(.p-listbox-option-group:has(.unnamed)) {
  display: none;
}
.choices :deep(.p-listbox-empty-message) {
  padding: var(--space-4) var(--space-8);
  color: var(--ink-soft);
}
.windowed :deep(.p-listbox-list-container) {
  width: min(420px, 80vw);
}
.windowed :deep(.title) {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.note {
  font-size: var(--type-small);
}
</style>
