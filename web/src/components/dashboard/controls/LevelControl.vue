<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import PropertyScale from '@/instruments/PropertyScale.vue'
import { wantedOf } from '@/lib/sliding'
import { optionOf, useCell } from '../cell'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'
import { useDeviceControl } from './useDeviceControl'

/** Sets a number on a scale, or step by step. */
const props = defineProps<{ control: Control }>()
const { device, property, state, title, standing, write } = useDeviceControl(props)
const { still } = useCell()

/** How many presses go from one end to the other. */
const PRESSES = 10
const at = computed(() => {
  const value = wantedOf(state.value)
  return typeof value === 'number' ? value : (property.value?.minimum ?? 0)
})
function by(direction: number) {
  const p = property.value!
  const step = Math.max(p.resolution, (p.maximum - p.minimum) / PRESSES)
  void write(Math.min(p.maximum, Math.max(p.minimum, at.value + direction * step)))
}
</script>

<template>
  <ControlFace v-bind="standing">
    <template #reason><DeviceReason :device="device" :property="property" :state="state" /></template>
    <template v-if="device && property" #foot>
      <span class="bar">
        <template v-if="optionOf(control, 'keys', true)">
          <button
            type="button"
            class="plain by"
            :aria-label="`${title}: less`"
            :disabled="still || at <= property.minimum"
            @click="by(-1)"
          >
            −
          </button>
          <button
            type="button"
            class="plain by last"
            :aria-label="`${title}: more`"
            :disabled="still || at >= property.maximum"
            @click="by(1)"
          >
            +
          </button>
        </template>
        <PropertyScale
          class="scale"
          size="panel"
          :label="title"
          :device="device.id"
          :property="property"
          :state="state"
          :silent="device.silent"
          :disabled="still"
        />
      </span>
    </template>
  </ControlFace>
</template>

<style scoped>
.bar {
  display: flex;
  gap: var(--space-10);
  align-items: center;
  min-height: 64px;
}
.scale {
  flex: 1;
  min-width: 0;
}
.by {
  width: 64px;
  height: 64px;
  flex: none;
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  font-size: var(--type-title);
  text-align: center;
}
.last {
  order: 1;
}
.by:disabled {
  color: var(--ink-soft);
  border-style: dotted;
}
</style>
