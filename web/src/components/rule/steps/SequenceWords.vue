<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Which sequence a step starts. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const sequences = computed(() => home.sequences.map((s) => ({ value: s.id, title: s.title })))
</script>

<template>
  <TokenPicker
    :model-value="step.sequence"
    :choices="sequences"
    label="Sequence"
    empty="choose a sequence"
    @update:model-value="step = { ...step, sequence: $event }"
  />
</template>
