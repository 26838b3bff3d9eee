<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import type { Device, Property, PropertyState } from '@/api/types'
import { certaintyOf } from '@/lib/certainty'
import { faceOf, type FaceSize } from '@/lib/faces'
import { goalOf, shutterOf } from '@/lib/shutters'
import DeviceLamp from './DeviceLamp.vue'
import LockBolt from './LockBolt.vue'
import OpeningPlan from './OpeningPlan.vue'
import ShutterWindow from './ShutterWindow.vue'

/** Rarely seen where most faces are, and much of what is loaded first. */
const DevicePlayer = defineAsyncComponent(() => import('./DevicePlayer.vue'))

/** How a property looks, by what it means: nothing where words alone tell it. */
const props = defineProps<{
  device: Device
  property: Property
  state?: PropertyState
  size?: FaceSize
  /** Whether it is only looked at. */
  still?: boolean
}>()
const face = computed(() => faceOf(props.device, props.property))
const certainty = computed(() => certaintyOf(props.state, props.device.silent))
const yes = computed(() => props.state?.value === true)
const shutter = computed(() => shutterOf(props.state))
</script>

<template>
  <DeviceLamp v-if="face === 'lamp'" :device="device" :size="size" :still="still" />
  <DevicePlayer v-else-if="face === 'player'" :device="device" :size="size" :disabled="still" />
  <OpeningPlan v-else-if="face === 'opening'" :label="device.title" :open="yes" :certainty="certainty" :size="size" />
  <LockBolt v-else-if="face === 'lock'" :label="device.title" :locked="yes" :certainty="certainty" :size="size" />
  <ShutterWindow
    v-else-if="face === 'shutter'"
    :label="`${device.title}, ${state?.text ?? 'not heard from yet'}`"
    :place="shutter.place"
    :known="shutter.known"
    :moving="shutter.moving"
    :goal="goalOf(state)"
    :size="size"
  />
</template>
