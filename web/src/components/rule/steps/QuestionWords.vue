<script setup lang="ts">
import type { Step } from '@/api/types'
import ToldToken from '@/components/tokens/ToldToken.vue'
import StepDuration from './StepDuration.vue'

/** What the household is asked, and for how long an answer is waited for. */
const step = defineModel<Step>({ required: true })
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })
</script>

<template>
  <ToldToken
    :model-value="step.text"
    label="What is asked"
    empty="say what"
    :maximum="500"
    @update:model-value="change({ text: $event })"
  />
  <span class="soft">, waiting </span>
  <StepDuration
    v-model="step"
    field="atMostSeconds"
    label="At most"
    zero="until somebody answers"
    lead="for at most "
  />
</template>
