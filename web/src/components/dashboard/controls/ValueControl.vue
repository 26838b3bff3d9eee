<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import PropertyFace from '@/instruments/PropertyFace.vue'
import ReadingLine from '@/instruments/ReadingLine.vue'
import { faceOf } from '@/lib/faces'
import { BESIDE } from '@/stores/lines'
import { optionOf, useCell } from '../cell'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'
import { useDeviceControl } from './useDeviceControl'

/** Shows what a property is at: by its face where it has one, a number by the line of its last hours. */
const props = defineProps<{ control: Control }>()
const { device, property, state, standing } = useDeviceControl(props)
const { still } = useCell()
const face = computed(() => device.value && property.value && faceOf(device.value, property.value))
const numeric = computed(() => property.value?.type === 'number' && face.value !== 'shutter')
</script>

<template>
  <ControlFace v-bind="standing">
    <template #reason><DeviceReason :device="device" :property="property" :state="state" /></template>
    <template v-if="device && property && face" #foot>
      <ReadingLine
        v-if="numeric"
        :device="device.id"
        :property="property.name"
        :hours="optionOf(control, 'hours', BESIDE.hours)"
        size="panel"
      />
      <PropertyFace
        v-else
        class="face"
        :device="device"
        :property="property"
        :state="state"
        size="panel"
        :still="still || face !== 'player'"
      />
    </template>
  </ControlFace>
</template>

<style scoped>
/* A drawing is as high as there is room for. */
svg.face {
  flex: 1 1 0;
  min-height: 0;
  width: auto;
  max-width: 110px;
  align-self: flex-start;
  margin: 0;
}
</style>
