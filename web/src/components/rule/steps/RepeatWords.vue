<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** How often a step repeats. */
const step = defineModel<Step>({ required: true })
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

type Ending = 'times' | 'while' | 'until' | 'ever'
const ending = computed<Ending>(() =>
  step.value.condition ? (step.value.until ? 'until' : 'while') : step.value.times ? 'times' : 'ever',
)
const endings: { value: Ending; title: string }[] = [
  { value: 'times', title: 'so many times:' },
  { value: 'while', title: 'while' },
  { value: 'until', title: 'until' },
  { value: 'ever', title: 'until it is stopped' },
]
function endBy(to: Ending) {
  change({
    condition: to === 'while' || to === 'until' ? (step.value.condition ?? {}) : undefined,
    until: to === 'until' || undefined,
    times: to === 'times' ? (step.value.times ?? 3) : undefined,
  })
}
</script>

<template>
  <TokenPicker :model-value="ending" :choices="endings" label="How often" @update:model-value="endBy" />
  {{ ' ' }}
  <NumberToken
    v-if="ending === 'times'"
    :model-value="step.times"
    label="How many times"
    :minimum="1"
    :maximum="10000"
    @update:model-value="change({ times: Math.round($event) })"
  />
</template>
