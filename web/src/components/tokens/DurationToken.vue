<script setup lang="ts">
import { duration } from '@/lib/format'
import ExpressionToken from './ExpressionToken.vue'
import NumberToken from './NumberToken.vue'

/** A duration in seconds, said as people say it; where it is workable, a formula may give it. */
defineProps<{
  modelValue: number | undefined
  label: string
  invalid?: boolean
  zero?: string
  lead?: string
  workable?: boolean
  formula?: string | undefined
}>()
defineEmits<{ 'update:modelValue': [number]; 'update:formula': [string | undefined] }>()

const units = [
  { title: 's', factor: 1 },
  { title: 'min', factor: 60 },
  { title: 'h', factor: 3600 },
]
const WEEK = 604_800
</script>

<template>
  <template v-if="formula !== undefined">
    {{ lead ?? '' }}as many seconds as
    <ExpressionToken
      :model-value="formula"
      :label="`${label}, in seconds`"
      empty="write a formula"
      help="Empty it for a fixed time again."
      @update:model-value="$emit('update:formula', $event || undefined)"
    />
  </template>
  <NumberToken
    v-else
    :model-value="modelValue"
    :label="label"
    :units="units"
    :minimum="0"
    :maximum="WEEK"
    :invalid="invalid"
    :workable="workable"
    :text="
      modelValue === undefined ? undefined : modelValue === 0 && zero ? zero : `${lead ?? ''}${duration(modelValue)}`
    "
    @update:model-value="$emit('update:modelValue', $event)"
    @work="$emit('update:formula', '')"
  />
</template>
