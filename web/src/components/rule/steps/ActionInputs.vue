<script setup lang="ts">
import { computed } from 'vue'
import type { Action, Given, Value } from '@/api/types'
import ExpressionToken from '@/components/tokens/ExpressionToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ValueToken from '@/components/tokens/ValueToken.vue'

/** What an action is given: what it needs is always there, the rest can be added and left out again. */
const given = defineModel<Record<string, Given>>({ required: true })
const props = defineProps<{
  action: Action
  /** Whether a value may be worked out by an expression. */
  worked?: boolean
}>()

const inputs = computed(() => props.action.inputs ?? [])
const shown = computed(() => inputs.value.filter((i) => i.required || i.name in given.value))
const omitted = computed(() =>
  inputs.value
    .filter((i) => !i.required && !(i.name in given.value))
    .map((i) => ({ value: i.name, title: i.title.toLowerCase() })),
)

const give = (name: string, to: Given) => (given.value = { ...given.value, [name]: to })
function add(name: string) {
  const input = inputs.value.find((i) => i.name === name)
  const first: Value | undefined =
    input?.type === 'boolean' ? true : input?.type === 'number' ? input.minimum : (input?.options?.[0] ?? undefined)
  give(name, { value: first })
}

type Way = 'fixed' | 'worked' | 'none'
function ways(required: boolean | undefined) {
  return [
    { value: 'fixed' as Way, title: 'is' },
    { value: 'worked' as Way, title: 'is worked out:' },
    ...(required ? [] : [{ value: 'none' as Way, title: 'is left out' }]),
  ]
}
function go(name: string, way: Way) {
  if (way === 'none') {
    given.value = Object.fromEntries(Object.entries(given.value).filter(([n]) => n !== name))
  } else give(name, way === 'worked' ? { expression: '' } : { value: undefined })
}
</script>

<template>
  <template v-for="input in shown" :key="input.name">
    <span class="soft">, {{ input.title.toLowerCase() }}</span>
    {{ ' ' }}
    <TokenPicker
      v-if="worked || !input.required"
      :model-value="given[input.name]?.expression !== undefined ? 'worked' : 'fixed'"
      :choices="worked ? ways(input.required) : ways(input.required).filter((w) => w.value !== 'worked')"
      :label="`How ${input.title.toLowerCase()} is given`"
      @update:model-value="go(input.name, $event)"
    />
    {{ ' ' }}
    <ExpressionToken
      v-if="given[input.name]?.expression !== undefined"
      :model-value="given[input.name]?.expression"
      :label="input.title"
      empty="write an expression"
      @update:model-value="give(input.name, { expression: $event })"
    />
    <ValueToken
      v-else
      :model-value="given[input.name]?.value"
      :property="input"
      :label="input.title"
      @update:model-value="give(input.name, { value: $event })"
    />
  </template>
  <template v-if="omitted.length">
    <span class="soft">,</span>
    {{ ' ' }}
    <TokenPicker
      :model-value="undefined"
      :choices="omitted"
      label="Also give"
      empty="also give …"
      @update:model-value="add"
    />
  </template>
</template>
