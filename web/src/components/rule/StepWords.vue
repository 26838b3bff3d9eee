<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { stepComponents } from './steps'

/** What one step says after its kind; nothing where the kind says it all. */
const step = defineModel<Step>({ required: true })
const props = defineProps<{
  /** Whether the rule lets go by itself, so that a hold needs no duration. */
  lasts?: boolean
  self?: string
  /** Id of the group of the each around. */
  member?: string
}>()

const words = computed(() => stepComponents[step.value.kind])
/** Only what the words of a kind ask for is handed to them: the rest would land on their elements. */
const context = computed(() => {
  const given: Record<string, unknown> = {}
  for (const name of words.value?.wants ?? []) given[name] = props[name]
  return given
})
</script>

<template>
  <component :is="words.component" v-if="words" v-model="step" v-bind="context" />
</template>
