<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Which rule a step runs, stops, pauses or resumes; a stop may also end this run, or a sequence. */
const step = defineModel<Step>({ required: true })
const props = defineProps<{ self?: string }>()
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

const sequences = computed(() => home.sequences.map((s) => ({ value: s.id, title: s.title })))
const ruleChoices = computed(() => {
  const others = home.rules.filter((r) => r.id !== props.self).map((r) => ({ value: r.id, title: r.title }))
  if (step.value.kind !== 'stop') return others
  const moving = sequences.value.map((s) => ({ ...s, title: `sequence ${s.title}` }))
  return [...(props.self ? [{ value: '', title: 'this run' }] : []), ...others, ...moving]
})
function chooseRule(id: string) {
  const sequence = home.sequence(id) !== undefined
  change({ rule: sequence ? undefined : id || undefined, sequence: sequence ? id : undefined })
}
</script>

<template>
  <TokenPicker
    :model-value="step.sequence ?? step.rule ?? (step.kind === 'stop' ? '' : undefined)"
    :choices="ruleChoices"
    :label="step.sequence ? 'Sequence' : 'Rule'"
    empty="choose a rule"
    @update:model-value="chooseRule"
  />
</template>
