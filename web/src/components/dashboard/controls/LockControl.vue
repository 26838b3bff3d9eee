<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import LockBolt from '@/instruments/LockBolt.vue'
import LockKey from '@/instruments/LockKey.vue'
import { wantedOf } from '@/lib/sliding'
import { useCell } from '../cell'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'
import { useDeviceControl } from './useDeviceControl'

/** A lock: a tap on its key locks, holding it unlocks. */
const props = defineProps<{ control: Control }>()
const { device, property, state, certainty, title, standing, write } = useDeviceControl(props)
const { still } = useCell()
const locked = computed(() => wantedOf(state.value) === true)
</script>

<template>
  <ControlFace v-bind="standing">
    <template #reason><DeviceReason :device="device" :property="property" :state="state" /></template>
    <template v-if="device && property" #foot>
      <LockBolt v-if="still" :label="title" :locked="locked" :certainty="certainty" size="panel" />
      <LockKey
        v-else
        :label="title"
        :locked="locked"
        :certainty="certainty"
        size="panel"
        @lock="write(true)"
        @unlock="write(false)"
      />
    </template>
  </ControlFace>
</template>
