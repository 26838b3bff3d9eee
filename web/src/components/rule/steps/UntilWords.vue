<script setup lang="ts">
import type { Step } from '@/api/types'
import { withFormula } from '@/lib/formulas'
import DurationToken from '@/components/tokens/DurationToken.vue'

/** For how long a step waits for its condition. */
const step = defineModel<Step>({ required: true })
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })
type Given = 'atMostSeconds'
const byFormula = (field: Given, formula: string | undefined) =>
  change({ formulas: withFormula(step.value.formulas, field, formula) })
</script>

<template>
  <span class="soft">what follows is so, </span>
  <DurationToken
    :model-value="step.atMostSeconds ?? 0"
    label="At most"
    zero="however long it takes"
    lead="for at most "
    :formula="step.formulas?.atMostSeconds"
    workable
    @update:model-value="change({ atMostSeconds: $event || undefined })"
    @update:formula="byFormula('atMostSeconds', $event)"
  />
</template>
