<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { useHome } from '@/stores/home'
import ControlFace from './ControlFace.vue'

/** The rooms in which somebody is now, as their sensors say. */
defineProps<{ control: Control }>()
const home = useHome()
const senses = computed(() =>
  home.devices.flatMap((device) =>
    device.description.properties
      .filter((p) => p.role === 'motion')
      .flatMap((p) => {
        const state = device.states.find((s) => s.name === p.name)
        return state && device.room ? [{ room: device.room, state, silent: device.silent }] : []
      }),
  ),
)
const now = computed(() => {
  const rooms = new Set(senses.value.filter((s) => s.state.value === true && !s.silent).map((s) => s.room))
  return home.rooms.filter((r) => rooms.has(r.id))
})
/** When somebody was seen last, where nobody is now. */
const last = computed(
  () =>
    senses.value
      .map((s) => s.state.changedAt ?? '')
      .sort()
      .at(-1) ?? '',
)
</script>

<template>
  <ControlFace :title="control.label || 'Somebody in'" :figure="now.length ? '' : 'nobody'" :on="now.length > 0">
    <template #reason>
      <template v-if="!senses.length">No motion sensor stands in a room</template>
      <template v-else-if="!now.length && last">since {{ home.times.since(last, home.now) }}</template>
    </template>
    <template v-if="now.length" #foot>
      <b class="rooms">{{ now.map((r) => r.title).join(', ') }}</b>
    </template>
  </ControlFace>
</template>

<style scoped>
.rooms {
  font-size: var(--type-title);
  line-height: 1.25;
}
</style>
