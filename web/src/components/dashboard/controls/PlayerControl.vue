<script setup lang="ts">
import type { Control } from '@/api/types'
import CoverArt from '@/instruments/CoverArt.vue'
import DevicePlayer from '@/instruments/DevicePlayer.vue'
import { useCell } from '../cell'
import ControlFace from './ControlFace.vue'
import { useDeviceControl } from './useDeviceControl'

/** A player: what it plays, pause and next, and how loud; large, with what is playing drawn. */
const props = defineProps<{ control: Control }>()
const { device, state, standing } = useDeviceControl(props)
const { face, still } = useCell()
</script>

<template>
  <ControlFace :grows="face === 'large'" v-bind="standing" :figure="device ? '' : standing.figure">
    <template v-if="device?.silent" #reason>{{ device.silentReason }}</template>
    <template v-if="device" #foot>
      <CoverArt v-if="face === 'large'" class="cover" :track="state?.text ?? ''" />
      <DevicePlayer :device="device" size="panel" :disabled="still" />
    </template>
  </ControlFace>
</template>

<style scoped>
.cover {
  flex: 1 1 0;
  min-height: 0;
  margin-bottom: var(--space-10);
}
</style>
