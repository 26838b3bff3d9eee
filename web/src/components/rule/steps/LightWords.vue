<script setup lang="ts">
import { computed } from 'vue'
import type { Property, Step } from '@/api/types'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ValueToken from '@/components/tokens/ValueToken.vue'
import { lightChoices, lightStep, lightVerbs } from '@/lib/lightVerbs'
import { useHome } from '@/stores/home'

/** What a step does with the light of a room. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const lights = computed(() => home.lights.map((l) => ({ value: l.id, title: l.title })))
const takes = computed(() => (step.value.verb ? lightVerbs[step.value.verb].takes : undefined))
/** Colors are typed as those of lamps. */
const COLOR = { type: 'color', title: 'Color' } as Property
const swatch = computed(() => {
  const v = step.value.value
  return typeof v === 'object' && v && 'swatch' in v ? String(v.swatch) : undefined
})
</script>

<template>
  <TokenPicker
    :model-value="step.light"
    :choices="lights"
    label="Light"
    empty="choose a room"
    :invalid="!!step.light && !home.lights.some((l) => l.id === step.light)"
    @update:model-value="step = { ...step, light: $event }"
  />
  {{ ' ' }}
  <TokenPicker
    :model-value="step.verb || undefined"
    :choices="lightChoices"
    label="What is done with it"
    empty="choose what"
    @update:model-value="step = lightStep(step.light, $event)"
  />
  {{ ' ' }}
  <ValueToken
    v-if="step.verb === 'color'"
    :model-value="step.value"
    :property="COLOR"
    label="Color"
    :swatch="swatch"
    @update:model-value="step = { ...step, value: $event }"
  />
  <NumberToken
    v-else-if="takes"
    :model-value="typeof step.value === 'number' ? step.value : undefined"
    label="How much"
    :unit="takes.unit"
    :minimum="takes.minimum"
    :maximum="takes.maximum"
    @update:model-value="step = { ...step, value: $event }"
  />
</template>
