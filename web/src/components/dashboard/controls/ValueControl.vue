<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import PropertyFace from '@/instruments/PropertyFace.vue'
import ReadingLine from '@/instruments/ReadingLine.vue'
import { faceOf } from '@/lib/faces'
import { useHome } from '@/stores/home'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'

/** Shows what a property is at: by its face where it has one, a number by the line of its last hours. A player is operated. */
const props = defineProps<{ control: Control; still?: boolean }>()
const home = useHome()

const device = computed(() => home.device(props.control.device))
const property = computed(() => home.property(props.control.device, props.control.property))
const state = computed(() => home.state(props.control.device, props.control.property))
const pending = computed(() => state.value?.certainty === 'pending')
const figure = computed(() => (pending.value ? (state.value?.targetText ?? '') : (state.value?.text ?? '–')))
const face = computed(() => device.value && property.value && faceOf(device.value, property.value))
const numeric = computed(() => property.value?.type === 'number' && face.value !== 'shutter')
</script>

<template>
  <ControlFace
    :title="control.label || device?.title || 'Nothing'"
    :figure="device ? figure : 'gone'"
    :pending="pending"
    :failed="state?.certainty === 'failed'"
    :silent="device?.silent"
    :still="still"
  >
    <template #reason><DeviceReason :device="device" :property="property" :state="state" /></template>
    <template v-if="device && property && face" #foot>
      <ReadingLine v-if="numeric" :device="device.id" :property="property.name" size="panel" />
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
