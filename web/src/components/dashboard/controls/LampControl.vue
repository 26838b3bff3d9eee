<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Control } from '@/api/types'
import LevelScale from '@/instruments/LevelScale.vue'
import { colorOf } from '@/instruments/useLamp'
import { act } from '@/lib/act'
import { useAsked } from '@/lib/asked'
import { certaintyOf } from '@/lib/certainty'
import { useHome } from '@/stores/home'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'

/** Switches something on and off, and dims what can be dimmed by its bar. */
const props = defineProps<{ control: Control; still?: boolean }>()
const home = useHome()

const SETTLE = 200
const device = computed(() => home.device(props.control.device))
const property = computed(() => home.property(props.control.device, props.control.property))
const state = computed(() => home.state(props.control.device, props.control.property))
const dims = computed(() => property.value?.type === 'number')
const title = computed(() => props.control.label || device.value?.title || 'Nothing')

const wanted = computed(() => (state.value?.certainty === 'pending' ? state.value.target : state.value?.value))
const on = computed(() => (typeof wanted.value === 'number' ? wanted.value > 0 : wanted.value === true))
const percent = ref(0)
const lastOn = ref(100)
const settled = useTimeoutFn(() => write(percent.value), SETTLE, { immediate: false })
watch(
  wanted,
  (now) => {
    if (typeof now !== 'number') return
    if (!settled.isPending.value) percent.value = now
    if (now > 0) lastOn.value = now
  },
  { immediate: true },
)

const { asked, attempt } = useAsked()
const write = (value: number | boolean) =>
  void attempt(() => act.write(props.control.device!, props.control.property!, value))
const tap = () => write(dims.value ? (on.value ? 0 : lastOn.value) : !on.value)
function dim(value: number) {
  percent.value = value
  settled.start()
}

const pending = computed(() => state.value?.certainty === 'pending' || asked.value)
const figure = computed(() =>
  state.value?.certainty === 'pending' ? (state.value.targetText ?? '') : (state.value?.text ?? '–'),
)
const swatch = computed(() => device.value && colorOf(device.value))
/** What the device says it is at; what is asked for is shown beside it. */
const confirmed = computed(() => (typeof state.value?.value === 'number' ? state.value.value : percent.value))
const certainty = computed(() => certaintyOf(state.value, device.value?.silent))
</script>

<template>
  <ControlFace
    :title="title"
    :figure="device ? figure : 'gone'"
    :on="on"
    :pending="pending"
    :failed="state?.certainty === 'failed'"
    :silent="device?.silent"
    :acts="!!property"
    :still="still"
    band
    @tap="tap"
  >
    <template #reason><DeviceReason :device="device" :property="property" :state="state" /></template>
    <template v-if="dims" #foot>
      <div class="bar">
        <LevelScale
          size="panel"
          :label="`${title}, ${property!.title.toLowerCase()}`"
          :value="confirmed"
          :asked="percent"
          :minimum="property!.minimum"
          :maximum="property!.maximum"
          :unit="property!.unit"
          :color="swatch"
          :certainty="percent === confirmed ? certainty : 'pending'"
          :disabled="still"
          @set="dim"
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
  padding-inline: var(--space-6);
}
</style>
