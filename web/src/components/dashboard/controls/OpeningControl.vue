<script setup lang="ts">
import type { Control } from '@/api/types'
import OpeningPlan from '@/instruments/OpeningPlan.vue'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'
import { useDeviceControl } from './useDeviceControl'

/** A door, a window or a gate as on a floor plan. */
const props = defineProps<{ control: Control }>()
const { device, property, state, certainty, title, standing } = useDeviceControl(props)
</script>

<template>
  <ControlFace v-bind="standing">
    <template #reason><DeviceReason :device="device" :property="property" :state="state" /></template>
    <template v-if="device && property" #foot>
      <OpeningPlan class="plan" :label="title" :open="state?.value === true" :certainty="certainty" size="panel" />
    </template>
  </ControlFace>
</template>

<style scoped>
svg.plan {
  flex: 1 1 0;
  min-height: 0;
  width: auto;
  max-width: 110px;
  align-self: flex-start;
  margin: 0;
}
</style>
