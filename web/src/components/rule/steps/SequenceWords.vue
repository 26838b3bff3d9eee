<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Which sequence or moving light a step starts, and whether it stops what runs already. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const sequences = computed(() =>
  home.sequences.map((s) => ({ value: s.id, title: s.title, note: s.effect && 'moving light' })),
)
const again = [
  { value: 'anew', title: 'anew if it runs already' },
  { value: 'stop', title: 'or stop it if it runs already', note: 'such as for one key' },
]
</script>

<template>
  <TokenPicker
    :model-value="step.sequence"
    :choices="sequences"
    label="Sequence"
    empty="choose a sequence"
    @update:model-value="step = { ...step, sequence: $event }"
  />
  <span class="soft">, </span>
  <TokenPicker
    :model-value="step.orOff ? 'stop' : 'anew'"
    :choices="again"
    label="While it runs already"
    @update:model-value="step = { ...step, orOff: $event === 'stop' || undefined }"
  />
</template>
