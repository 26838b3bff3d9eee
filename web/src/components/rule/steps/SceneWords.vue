<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Which scene a step applies. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const sceneChoices = computed(() => home.scenes.map((s) => ({ value: s.id, title: s.title })))
</script>

<template>
  <TokenPicker
    :model-value="step.scene"
    :choices="sceneChoices"
    label="Scene"
    empty="choose a scene"
    @update:model-value="step = { ...step, scene: $event }"
  />
</template>
