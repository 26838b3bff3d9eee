<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { join, propertyChoices, split } from '@/lib/sentences'
import { GROUP, setChoices, setOf } from '@/lib/steps'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ToldToken from '@/components/tokens/ToldToken.vue'

/** Which speaker says what. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

const speakers = computed(() => [
  ...setChoices(home.sets, home.everything, (p) => p.role === 'speech'),
  ...propertyChoices(home.everything, home.rooms, (p) => p.role === 'speech'),
])
const speaker = computed(() => {
  const { device, group, property } = step.value
  if (!property) return undefined
  return group ? join(`${GROUP}${group}`, property) : device ? join(device, property) : undefined
})
function choose(value: string) {
  const [device, property] = split(value)
  const group = setOf(device)
  change({ device: group ? undefined : device, group, property })
}
</script>

<template>
  <TokenPicker
    :model-value="speaker"
    :choices="speakers"
    label="What speaks"
    empty="choose a speaker"
    @update:model-value="choose"
  />
  says
  <ToldToken
    :model-value="step.text"
    label="What is said"
    empty="something"
    :maximum="400"
    @update:model-value="change({ text: $event })"
  />
</template>
