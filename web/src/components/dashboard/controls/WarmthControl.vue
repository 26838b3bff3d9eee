<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import PropertyScale from '@/instruments/PropertyScale.vue'
import { useCell } from '../cell'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'
import { useDeviceControl } from './useDeviceControl'

/** How warm it is, and how warm it is to be. */
const props = defineProps<{ control: Control }>()
const { device, property, state, title, standing } = useDeviceControl(props)
const { still } = useCell()
const measured = computed(() => {
  const p = device.value?.description.properties.find((one) => one.role === 'temperature')
  return device.value?.states.find((s) => s.name === p?.name)
})
const wanted = computed(() => (standing.value.pending ? state.value?.targetText : state.value?.text) ?? '–')
</script>

<template>
  <ControlFace v-bind="standing" :figure="device ? (measured?.text ?? wanted) : standing.figure">
    <template #reason>
      <template v-if="measured && device && !device.silent">to be {{ wanted }} · </template>
      <DeviceReason :device="device" :property="property" :state="state" />
    </template>
    <template v-if="device && property" #foot>
      <PropertyScale
        size="panel"
        :label="title"
        :device="device.id"
        :property="property"
        :state="state"
        :silent="device.silent"
        :measured="typeof measured?.value === 'number' ? measured.value : undefined"
        :disabled="still"
      />
    </template>
  </ControlFace>
</template>
