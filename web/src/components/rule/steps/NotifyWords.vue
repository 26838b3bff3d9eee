<script setup lang="ts">
import type { Step } from '@/api/types'
import ToldToken from '@/components/tokens/ToldToken.vue'

/** What the household is told. */
const step = defineModel<Step>({ required: true })
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })
</script>

<template>
  <ToldToken
    :model-value="step.text"
    label="What is told"
    empty="say what"
    :maximum="500"
    @update:model-value="change({ text: $event })"
  />
</template>
