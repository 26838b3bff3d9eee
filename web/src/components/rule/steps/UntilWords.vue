<script setup lang="ts">
import type { Step } from '@/api/types'
import StepDuration from './StepDuration.vue'

/** For how long a step waits for its condition. */
const step = defineModel<Step>({ required: true })
</script>

<template>
  <span class="soft">what follows is so, </span>
  <StepDuration v-model="step" field="atMostSeconds" label="At most" zero="however long it takes" lead="for at most " />
</template>
