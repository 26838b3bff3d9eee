<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import type { Device, Property, PropertyState } from '@/api/types'
import ReasonLine from '@/components/marks/ReasonLine.vue'
import StateMark from '@/components/marks/StateMark.vue'
import OwnLight from '@/components/sensor/OwnLight.vue'
import ProveSensor from '@/components/sensor/ProveSensor.vue'
import ShutterControl from '@/components/shutter/ShutterControl.vue'
import TravelTimes from '@/components/shutter/TravelTimes.vue'
import PropertyFace from '@/instruments/PropertyFace.vue'
import ReadingLine from '@/instruments/ReadingLine.vue'
import { colorOf } from '@/instruments/useLamp'
import { isUpkeep } from '@/lib/devices'
import { faceOf } from '@/lib/faces'
import { useHome } from '@/stores/home'
import DifferenceSettle from './DifferenceSettle.vue'
import PropertyControl from './PropertyControl.vue'

/** A property on the page of its device: its face, its figure, what sets it, and why it is so. */
const props = defineProps<{ device: Device; property: Property; state: PropertyState; chosen: boolean }>()
const emit = defineEmits<{ choose: [] }>()
const home = useHome()

const face = computed(() => faceOf(props.device, props.property))
/** Whether a face stands beside the figure: not where the control below is one. */
const faced = computed(
  () => face.value === 'lamp' || face.value === 'opening' || (face.value === 'lock' && !props.property.writable),
)
/** What another property of the device is at, by what it means, where that is a number. */
function numberOf(role: string): number | undefined {
  const name = props.device.description.properties.find((p) => p.role === role)?.name
  const value = props.device.states.find((s) => s.name === name)?.value
  return typeof value === 'number' ? value : undefined
}
const tilt = computed(() => numberOf('tilt'))
/** How warm it is by the device itself. */
const warmth = computed(() => (props.device.silent ? undefined : numberOf('temperature')))
const stopper = computed(() => props.device.description.actions.find((a) => a.role === 'stop'))

/** What the property means, where its title does not say it already. */
const roleWords = computed(() => {
  const { role = '', title } = props.property
  const words = role.replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`)
  return words === title.toLowerCase() || role === 'power' ? '' : words
})

/** Whether its proof by another sensor is open, and what its lamps give it. */
const proving = ref(false)
const lit = ref(false)
/** What is measured in the world; not what a device says of itself. */
const measured = new Set(['temperature', 'humidity', 'illuminance', 'level', 'electricPower'])
const provable = computed(() => {
  const { type, writable, role = '', unit } = props.property
  return type === 'number' && !writable && !props.property.without && (measured.has(role) || (!role && !!unit))
})
</script>

<template>
  <article class="property" :class="{ chosen }">
    <div class="top">
      <button class="plain name" :aria-pressed="chosen" @click="emit('choose')">
        <StateMark :state="state" :silent="device.silent" /> {{ property.title }}
        <span v-if="roleWords" class="soft role">{{ roleWords }}</span>
      </button>
      <span class="soft mono confirmed">
        <template v-if="state.certainty === 'confirmed' && property.writable && state.milliseconds">
          confirmed in {{ Math.round(state.milliseconds) }} ms
        </template>
        <template v-else-if="state.changedAt">{{ home.times.since(state.changedAt, home.now) }}</template>
      </span>
    </div>
    <div class="figure">
      <PropertyFace v-if="faced" :device="device" :property="property" :state="state" size="page" />
      <i v-if="state.swatch" class="swatch" :style="{ background: state.swatch }" aria-hidden="true" />
      <b class="mono" :class="{ pending: state.certainty === 'pending' }">{{ state.text }}</b>
      <span v-if="state.certainty === 'pending'" class="mono asked">→ {{ state.targetText }}</span>
      <RouterLink
        v-if="face === 'reading' && !isUpkeep(property)"
        class="line"
        :to="`/history?series=${device.id}~${property.name}`"
        :aria-label="`${property.title}: the last hours`"
      >
        <ReadingLine :device="device.id" :property="property.name" size="page" />
      </RouterLink>
    </div>
    <DifferenceSettle v-if="state.difference" :device="device.id" :property="property.name" :title="property.title">
      It is at {{ state.text }} and should be {{ state.targetText }}.
      <template v-if="state.difference.tries">It was set again {{ state.difference.tries }} times.</template>
    </DifferenceSettle>
    <p v-if="property.help" class="soft small">{{ property.help }}</p>
    <template v-if="provable">
      <button
        class="plain link small"
        :aria-expanded="proving"
        :aria-label="`${device.adjustments?.[property.name] ? 'Calibrated' : 'Check its accuracy'}: ${property.title.toLowerCase()}`"
        @click="proving = !proving"
      >
        {{ device.adjustments?.[property.name] ? 'Calibrated' : 'Check its accuracy' }}
      </button>
      <button
        v-if="property.role === 'illuminance'"
        class="plain link small beside"
        :aria-expanded="lit"
        @click="lit = !lit"
      >
        What its lamps give it
      </button>
      <ProveSensor v-if="proving" :device="device" :property="property" />
      <OwnLight v-if="lit" :device="device" :property="property" />
    </template>
    <template v-if="property.role === 'position'">
      <ShutterControl :device="device.id" :property="property" :state="state" :stop="stopper?.name" :tilt="tilt" />
      <TravelTimes
        v-if="property.cover"
        :device="device.id"
        :title="device.title"
        :property="property"
        :state="state"
      />
    </template>
    <PropertyFace v-else-if="face === 'player'" :device="device" :property="property" :state="state" size="page" />
    <PropertyControl
      v-else-if="property.writable"
      :device="device.id"
      :property="property"
      :state="state"
      :silent="device.silent"
      :color="face === 'lamp' ? colorOf(device) : undefined"
      :measured="warmth"
    />
    <button v-if="property.writable" type="button" class="plain why" title="How it came about" @click="emit('choose')">
      <span class="heard-only">Why is {{ property.title.toLowerCase() }} {{ state.text }}? </span>
      <ReasonLine :state="state" />
    </button>
  </article>
</template>

<style scoped>
.why {
  display: block;
  text-align: left;
}
.why:hover {
  text-decoration: underline;
}
.property {
  padding: var(--space-14) 0;
  border-bottom: 1px solid var(--rule);
}
.top {
  display: flex;
  justify-content: space-between;
  gap: var(--space-12);
  align-items: baseline;
}
.name {
  display: flex;
  gap: var(--space-8);
  align-items: center;
  font-weight: 650;
  font-size: var(--type-small);
}
.name:hover {
  color: var(--verdigris);
}
.chosen .name {
  text-decoration: underline;
  text-decoration-color: var(--verdigris);
  text-decoration-thickness: 2px;
  text-underline-offset: 5px;
}
.role {
  font-weight: 400;
  font-size: var(--type-small);
}
.confirmed {
  font-size: var(--type-note);
}
.figure {
  display: flex;
  gap: var(--space-12);
  align-items: center;
  padding: var(--space-4) 0;
}
.figure b {
  font-size: var(--type-figure);
  font-weight: 500;
  line-height: 1.2;
}
.pending {
  color: var(--ink-soft);
}
.asked {
  color: var(--ochre);
  font-size: var(--type-title);
}
.line {
  flex: 1;
  max-width: 260px;
  margin-left: auto;
}
.swatch {
  width: 22px;
  height: 22px;
  border: 1px solid var(--edge);
  border-radius: 2px;
}
.beside {
  margin-left: var(--space-14);
}
.small {
  font-size: var(--type-small);
}
</style>
