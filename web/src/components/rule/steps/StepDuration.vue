<script setup lang="ts">
import type { Step } from '@/api/types'
import { withFormula } from '@/lib/formulas'
import DurationToken from '@/components/tokens/DurationToken.vue'

/** How long something of a step takes, fixed or by a formula. */
const step = defineModel<Step>({ required: true })
const props = defineProps<{
  field: 'forSeconds' | 'fadeSeconds' | 'atMostSeconds' | 'gapSeconds'
  label: string
  /** What is said for none; without it a duration has to be given. */
  zero?: string
  lead?: string
}>()

const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })
const byFormula = (formula: string | undefined) =>
  change({ formulas: withFormula(step.value.formulas, props.field, formula) })
</script>

<template>
  <DurationToken
    :model-value="zero === undefined ? step[field] || undefined : (step[field] ?? 0)"
    :label="label"
    :zero="zero"
    :lead="lead"
    :formula="step.formulas?.[field]"
    workable
    @update:model-value="change({ [field]: $event || undefined })"
    @update:formula="byFormula"
  />
</template>
