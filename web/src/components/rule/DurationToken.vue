<script setup lang="ts">
import { duration } from '@/lib/format'
import NumberToken from './NumberToken.vue'

/** A duration in seconds, said as people say it. */
defineProps<{ modelValue: number | undefined; label: string; invalid?: boolean; zero?: string; lead?: string }>()
defineEmits<{ 'update:modelValue': [number] }>()

const units = [
  { title: 's', factor: 1 },
  { title: 'min', factor: 60 },
  { title: 'h', factor: 3600 },
]
const WEEK = 604_800
</script>

<template>
  <NumberToken
    :model-value="modelValue"
    :label="label"
    :units="units"
    :minimum="0"
    :maximum="WEEK"
    :invalid="invalid"
    :text="
      modelValue === undefined ? undefined : modelValue === 0 && zero ? zero : `${lead ?? ''}${duration(modelValue)}`
    "
    @update:model-value="$emit('update:modelValue', $event)"
  />
</template>
