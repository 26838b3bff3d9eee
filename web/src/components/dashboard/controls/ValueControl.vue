<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { useHome } from '@/stores/home'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'

/** Shows what a property is at. */
const props = defineProps<{ control: Control; still?: boolean }>()
const home = useHome()

const device = computed(() => home.device(props.control.device))
const property = computed(() => home.property(props.control.device, props.control.property))
const state = computed(() => home.state(props.control.device, props.control.property))
const pending = computed(() => state.value?.certainty === 'pending')
const figure = computed(() => (pending.value ? (state.value?.targetText ?? '') : (state.value?.text ?? '–')))
</script>

<template>
  <ControlFace
    :title="control.label || device?.title || 'Nothing'"
    :figure="device ? figure : 'gone'"
    :on="state?.value === true"
    :pending="pending"
    :failed="state?.certainty === 'failed'"
    :silent="device?.silent"
    :still="still"
  >
    <template #reason><DeviceReason :device="device" :property="property" :state="state" /></template>
  </ControlFace>
</template>
