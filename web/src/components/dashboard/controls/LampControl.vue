<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import LampPendant from '@/instruments/LampPendant.vue'
import PropertyScale from '@/instruments/PropertyScale.vue'
import { useLamp } from '@/instruments/useLamp'
import { heldBy } from '@/lib/certainty'
import { useHome } from '@/stores/home'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'

/** Switches something on and off by its name or its pendant, and dims what can be dimmed by its scale. */
const props = defineProps<{ control: Control; still?: boolean }>()
const home = useHome()

const device = computed(() => home.device(props.control.device))
const lamp = useLamp(device, () => props.control.property)
const { property, state, certainty, on, dims, swatch } = lamp
const title = computed(() => props.control.label || device.value?.title || 'Nothing')
const pending = computed(() => certainty.value === 'pending')
const figure = computed(() => (pending.value ? state.value?.targetText : state.value?.text) ?? '–')
</script>

<template>
  <ControlFace
    :title="title"
    :figure="device ? figure : 'gone'"
    :on="on"
    :pending="pending"
    :failed="certainty === 'failed'"
    :silent="device?.silent"
    :acts="!!property"
    :still="still"
    @tap="lamp.toggle"
  >
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
