<script setup lang="ts">
import type { Control } from '@/api/types'
import ColorKeys from '@/instruments/ColorKeys.vue'
import PropertyScale from '@/instruments/PropertyScale.vue'
import { useCell } from '../cell'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'
import { useDeviceControl } from './useDeviceControl'

/** Sets the color of a lamp by keys, or its white on a scale. */
const props = defineProps<{ control: Control }>()
const { device, property, state, title, standing } = useDeviceControl(props)
const { still } = useCell()
</script>

<template>
  <ControlFace v-bind="standing" :figure="property?.type === 'color' && device ? '' : standing.figure">
    <template #reason><DeviceReason :device="device" :property="property" :state="state" /></template>
    <template v-if="device && property" #foot>
      <ColorKeys
        v-if="property.type === 'color'"
        :label="title"
        :device="device.id"
        :property="property"
        :swatch="state?.swatch"
        :disabled="still"
      />
      <PropertyScale
        v-else
        size="panel"
        :label="title"
        :device="device.id"
        :property="property"
        :state="state"
        :silent="device.silent"
        :disabled="still"
      />
    </template>
  </ControlFace>
</template>
