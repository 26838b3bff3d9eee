<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import CameraFace from '@/instruments/CameraFace.vue'
import { useHome } from '@/stores/home'
import { optionOf, useCell } from '../cell'
import ControlFace from './ControlFace.vue'

/** What a camera sees, asked for again and again. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const { still } = useCell()
const device = computed(() => home.device(props.control.device))
const title = computed(() => props.control.label || device.value?.title || 'Nothing')
</script>

<template>
  <ControlFace grows :title="title" :figure="device ? '' : 'gone'" :silent="device?.silent">
    <template #reason>{{ device?.silent ? device.silentReason : '' }}</template>
    <template v-if="device && control.camera" #foot>
      <CameraFace
        class="camera"
        :device="device.id"
        :picture="control.camera"
        :label="title"
        :every="optionOf(control, 'every', 10)"
        size="panel"
        :inert="still"
      />
    </template>
  </ControlFace>
</template>

<style scoped>
.camera {
  flex: 1 1 0;
  min-height: 0;
}
.camera :deep(img) {
  height: 100%;
}
</style>
