<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { withFormula } from '@/lib/formulas'
import { useHome } from '@/stores/home'
import DurationToken from '@/components/tokens/DurationToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ToldToken from '@/components/tokens/ToldToken.vue'

/** What is shown on panels, on which, and for how long. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })
type Given = 'forSeconds'
const byFormula = (field: Given, formula: string | undefined) =>
  change({ formulas: withFormula(step.value.formulas, field, formula) })

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
  <DurationToken
    :model-value="step.forSeconds ?? 0"
    label="For how long"
    zero="until somebody has seen it"
    lead="for "
    :formula="step.formulas?.forSeconds"
    workable
    @update:model-value="change({ forSeconds: $event || undefined })"
    @update:formula="byFormula('forSeconds', $event)"
  />
</template>
