<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import type { Property, PropertyState } from '@/api/types'
import { act } from '@/lib/act'
import { goalOf, shutterOf } from '@/lib/shutters'
import { useNotices } from '@/stores/notices'
import PropertyControl from '@/components/device/PropertyControl.vue'
import ShutterWindow from '@/instruments/ShutterWindow.vue'

/** Raises, stops and lowers a shutter, and sends it to a place in between. */
const props = withDefaults(
  defineProps<{
    device: string
    property: Property
    state: PropertyState
    stop?: string
    /** How far its slats are turned, in percent, where it has any that turn. */
    tilt?: number
  }>(),
  { stop: undefined, tilt: undefined },
)
const notices = useNotices()

const shutter = computed(() => shutterOf(props.state))
const goal = computed(() => goalOf(props.state))
const go = (to: number) => notices.attempt(() => act.write(props.device, props.property.name, to))
const halt = () => notices.attempt(() => act.ask(props.device, props.stop ?? 'stop'))
</script>

<template>
  <div class="control">
    <ShutterWindow :place="shutter.place" :known="shutter.known" :moving="shutter.moving" :goal="goal" :tilt="tilt" />
    <div class="keys">
      <Button severity="secondary" label="Raise" @click="go(property.maximum)" />
      <Button v-if="stop" severity="secondary" label="Stop" :disabled="!shutter.moving && !goal" @click="halt" />
      <Button severity="secondary" label="Lower" @click="go(property.minimum)" />
    </div>
    <div class="exactly">
      <p class="soft small">
        <template v-if="shutter.moving">{{ shutter.moving === 'up' ? 'Opening' : 'Shutting' }}</template>
        <template v-else-if="!shutter.known">
          Where it stands is not known: the next run goes to an end of its way first.
        </template>
        <template v-else>At rest</template>
      </p>
      <PropertyControl v-if="shutter.travel" :device="device" :property="property" :state="state" />
      <p v-else class="soft small">To send it to a place in between, its travel times have to be known.</p>
    </div>
  </div>
</template>

<style scoped>
.control {
  display: flex;
  gap: var(--space-16);
  align-items: center;
  padding: var(--space-6) 0;
}
.keys {
  display: grid;
  gap: var(--space-4);
}
.keys :deep(button) {
  min-height: var(--touch);
  min-width: 92px;
}
.exactly {
  flex: 1;
  min-width: 0;
}
.small {
  font-size: var(--type-small);
}
</style>
