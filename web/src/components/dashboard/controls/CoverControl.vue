<script setup lang="ts">
import type { Control } from '@/api/types'
import CoverArt from '@/instruments/CoverArt.vue'
import ControlFace from './ControlFace.vue'
import { useDeviceControl } from './useDeviceControl'

/** Only what is playing, large. */
const props = defineProps<{ control: Control }>()
const { device, state, standing } = useDeviceControl(props)
</script>

<template>
  <ControlFace
    grows
    v-bind="standing"
    :title="device ? control.label || state?.text || 'Nothing is playing' : standing.title"
    :figure="device ? '' : standing.figure"
  >
    <template #reason>{{ device?.silent ? device.silentReason : device?.title }}</template>
    <template v-if="device" #foot><CoverArt class="cover" :track="state?.text ?? ''" /></template>
  </ControlFace>
</template>

<style scoped>
.cover {
  flex: 1 1 0;
  min-height: 0;
  margin-top: var(--space-6);
}
</style>
