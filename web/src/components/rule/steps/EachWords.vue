<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { withFormula } from '@/lib/formulas'
import { useHome } from '@/stores/home'
import DurationToken from '@/components/tokens/DurationToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** For which devices a step is done, one after the other. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })
type Given = 'gapSeconds'
const byFormula = (field: Given, formula: string | undefined) =>
  change({ formulas: withFormula(step.value.formulas, field, formula) })

const setTitles = computed(() =>
  home.sets.map((s) => ({ value: s.id, title: s.kind === 'Groups' ? s.title : `all ${s.title}`, group: s.kind })),
)
</script>

<template>
  <TokenPicker
    :model-value="step.group"
    :choices="setTitles"
    label="Group or room"
    empty="choose a group or a room"
    @update:model-value="change({ group: $event })"
  />
  <span class="soft">, </span>
  <DurationToken
    :model-value="step.gapSeconds ?? 0"
    label="Gap"
    zero="one right after the other"
    lead="with a gap of "
    :formula="step.formulas?.gapSeconds"
    workable
    @update:model-value="change({ gapSeconds: $event || undefined })"
    @update:formula="byFormula('gapSeconds', $event)"
  />
</template>
