<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import RuleKey from '@/instruments/RuleKey.vue'
import { wantedOf } from '@/lib/sliding'
import { useCell } from '../cell'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'
import { useDeviceControl } from './useDeviceControl'

/** Switches something on and off. */
const props = defineProps<{ control: Control }>()
const { device, property, state, title, standing, write } = useDeviceControl(props)
const { still } = useCell()
const on = computed(() => wantedOf(state.value) === true)
const words = computed(() => property.value?.words ?? ['off', 'on'])
const toggle = () => write(!on.value)
</script>

<template>
  <ControlFace v-bind="standing" :on="on" :acts="!!property" @tap="toggle">
    <template #reason><DeviceReason :device="device" :property="property" :state="state" /></template>
    <template v-if="device && property" #foot>
      <RuleKey
        class="key"
        :label="title"
        :verb="`Switch ${on ? words[0] : words[1]}`"
        :on="on"
        :pending="standing.pending"
        :failed="standing.failed"
        size="panel"
        :still="still"
        @tap="toggle"
      />
    </template>
  </ControlFace>
</template>

<style scoped>
.key {
  align-self: flex-start;
}
</style>
