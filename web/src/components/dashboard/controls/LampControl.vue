<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import ColorKeys from '@/instruments/ColorKeys.vue'
import LampPendant from '@/instruments/LampPendant.vue'
import PropertyScale from '@/instruments/PropertyScale.vue'
import { useLamp } from '@/instruments/useLamp'
import { heldBy } from '@/lib/certainty'
import { useCell } from '../cell'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'
import { useDeviceControl } from './useDeviceControl'

/** Switches something on and off by its name or its pendant, and dims what can be dimmed by its scale; large, with its color. */
const props = defineProps<{ control: Control }>()
const { device, property, state, title, standing } = useDeviceControl(props)
const { face, still } = useCell()

const lamp = useLamp(device, () => props.control.property)
const { certainty, on, dims, swatch } = lamp
const named = (role: string) =>
  face.value === 'large' ? device.value?.description.properties.find((p) => p.role === role && p.writable) : undefined
const color = computed(() => named('color'))
const white = computed(() => named('colorTemperature'))
const stateOf = (name: string) => device.value?.states.find((s) => s.name === name)
</script>

<template>
  <ControlFace v-bind="standing" :on="on" :acts="!!property" @tap="lamp.toggle">
    <template #reason><DeviceReason :device="device" :property="property" :state="state" /></template>
    <template v-if="device && property" #foot>
      <div class="bar">
        <LampPendant
          v-if="device.light"
          :label="title"
          :on="on"
          :level="dims ? lamp.level.value : undefined"
          :swatch="swatch"
          :certainty="certainty"
          :held="heldBy(state)"
          size="panel"
          :still="still"
          @tap="lamp.toggle"
        />
        <PropertyScale
          v-if="dims"
          class="scale"
          size="panel"
          :label="`${title}, ${property.title.toLowerCase()}`"
          :device="device.id"
          :property="property"
          :state="state"
          :silent="device.silent"
          :color="swatch"
          :disabled="still"
        />
      </div>
      <ColorKeys v-if="color" :label="title" :device="device.id" :property="color" :swatch="swatch" :disabled="still" />
      <div v-if="white" class="bar">
        <PropertyScale
          class="scale"
          size="panel"
          :label="`${title}, ${white.title.toLowerCase()}`"
          :device="device.id"
          :property="white"
          :state="stateOf(white.name)"
          :silent="device.silent"
          :disabled="still"
        />
      </div>
    </template>
  </ControlFace>
</template>

<style scoped>
.bar {
  display: flex;
  gap: var(--space-14);
  align-items: center;
  min-height: 64px;
}
.scale {
  flex: 1;
  min-width: 0;
}
</style>
