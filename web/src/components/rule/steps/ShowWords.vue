<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ToldToken from '@/components/tokens/ToldToken.vue'
import StepDuration from './StepDuration.vue'

/** What is shown on panels, on which, and for how long. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

const panels = computed(() => [
  { value: '', title: 'all panels' },
  ...home.dashboards.map((d) => ({ value: d.id, title: `panels of ${d.title}` })),
])
</script>

<template>
  <ToldToken
    :model-value="step.text"
    label="What is shown"
    empty="say what"
    :maximum="500"
    @update:model-value="change({ text: $event })"
  />
  <span class="soft"> on </span>
  <TokenPicker
    :model-value="step.dashboard ?? ''"
    :choices="panels"
    label="Which panels"
    @update:model-value="change({ dashboard: $event || undefined })"
  />
  {{ ' ' }}
  <StepDuration v-model="step" field="forSeconds" label="For how long" zero="until somebody has seen it" lead="for " />
</template>
