<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import StepDuration from './StepDuration.vue'

/** For which devices a step is done, one after the other. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

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
  <StepDuration v-model="step" field="gapSeconds" label="Gap" zero="one right after the other" lead="with a gap of " />
</template>
