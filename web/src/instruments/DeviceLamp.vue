<script setup lang="ts">
import { computed } from 'vue'
import type { Device } from '@/api/types'
import type { FaceSize } from '@/lib/faces'
import LampPendant from './LampPendant.vue'
import { useLamp } from './useLamp'
import { heldBy } from '@/lib/certainty'

/** The lamp of a device, switched by a tap. */
const props = defineProps<{ device: Device; size?: FaceSize; still?: boolean }>()
const lamp = useLamp(() => props.device)
const held = computed(() => heldBy(lamp.state.value))
</script>

<template>
  <LampPendant
    :label="device.title"
    :on="lamp.on.value"
    :level="lamp.dims.value ? lamp.level.value : undefined"
    :swatch="lamp.swatch.value"
    :certainty="lamp.certainty.value"
    :held="held"
    :size="size"
    :still="still"
    @tap="lamp.toggle"
  />
</template>
