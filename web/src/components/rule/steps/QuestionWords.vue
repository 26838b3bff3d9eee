<script setup lang="ts">
import type { Step } from '@/api/types'
import { withFormula } from '@/lib/formulas'
import DurationToken from '@/components/tokens/DurationToken.vue'
import ToldToken from '@/components/tokens/ToldToken.vue'

/** What the household is asked, and for how long an answer is waited for. */
const step = defineModel<Step>({ required: true })
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })
type Given = 'atMostSeconds'
const byFormula = (field: Given, formula: string | undefined) =>
  change({ formulas: withFormula(step.value.formulas, field, formula) })
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
  <DurationToken
    :model-value="step.atMostSeconds ?? 0"
    label="At most"
    zero="until somebody answers"
    lead="for at most "
    :formula="step.formulas?.atMostSeconds"
    workable
    @update:model-value="change({ atMostSeconds: $event || undefined })"
    @update:formula="byFormula('atMostSeconds', $event)"
  />
</template>
