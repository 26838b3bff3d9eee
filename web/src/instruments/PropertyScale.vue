<script setup lang="ts">
import { watch } from 'vue'
import type { Property, PropertyState } from '@/api/types'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import type { FaceSize } from '@/lib/faces'
import { useSliding } from '@/lib/sliding'
import LevelScale from './LevelScale.vue'
import WarmthScale from './WarmthScale.vue'

/** A number of a device as a scale that sets it; what is wanted of warmth stands beside what is measured. */
const props = defineProps<{
  device: string
  property: Property
  state?: PropertyState
  /** Whether its device cannot be heard. */
  silent?: boolean
  /** What it is called; its own title where none is given. */
  label?: string
  /** The light's own color, of a lamp. */
  color?: string
  /** How warm it is, of what is set to a warmth. */
  measured?: number
  size?: FaceSize
  disabled?: boolean
}>()
/** Tells where it is slid to. */
const emit = defineEmits<{ slid: [number] }>()
const attempt = useAttempt()

const KELVINS = 50
const sliding = useSliding(
  () => props.state,
  () => props.silent,
  (value) => attempt(() => act.write(props.device, props.property.name, value)),
  { minimum: () => props.property.minimum, places: () => (props.property.resolution >= 1 ? 1 : 0.1) },
)
const { asked, confirmed, certainty, slide } = sliding
watch(asked, (at) => emit('slid', at))
const step = () => (props.property.unit === 'K' ? KELVINS : 1)
</script>

<template>
  <WarmthScale
    v-if="property.role === 'setpoint'"
    :label="label ?? property.title"
    :measured="measured"
    :wanted="confirmed"
    :asked="asked"
    :minimum="property.minimum"
    :maximum="property.maximum"
    :step="property.resolution || 1"
    :unit="property.unit"
    :certainty="certainty"
    :size="size"
    :disabled="disabled"
    @set="slide"
  />
  <LevelScale
    v-else
    :label="label ?? property.title"
    :value="confirmed"
    :asked="asked"
    :minimum="property.minimum"
    :maximum="property.maximum"
    :step="step()"
    :unit="property.unit"
    :color="color"
    :certainty="certainty"
    :size="size"
    :disabled="disabled"
    @set="slide"
  />
</template>
