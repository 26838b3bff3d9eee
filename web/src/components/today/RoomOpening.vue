<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import LockBolt from '@/instruments/LockBolt.vue'
import OpeningPlan from '@/instruments/OpeningPlan.vue'
import ShutterWindow from '@/instruments/ShutterWindow.vue'
import { certaintyOf } from '@/lib/certainty'
import { span } from '@/lib/care'
import type { Reading } from '@/lib/houseNow'
import { useHome } from '@/stores/home'

/** What can be open in a room: a door, a lock, a shutter. Its words are there only where it is not as it mostly is. */
const props = defineProps<{ reading: Reading }>()
const home = useHome()

const role = computed(() => props.reading.property.role)
const state = computed(() => props.reading.state)
const yes = computed(() => state.value.value === true)
const certainty = computed(() => certaintyOf(state.value, props.reading.device.silent))
/** The name of what is in a room, without the room. */
const name = computed(() => {
  const { title, room } = props.reading.device
  const of = home.roomTitle(room)
  const rest = title.startsWith(`${of} `) ? title.slice(of.length + 1) : title
  return rest.charAt(0).toUpperCase() + rest.slice(1)
})
const since = computed(() => (state.value.changedAt ? span((home.now - Date.parse(state.value.changedAt)) / 1000) : ''))
const words = computed(() => {
  if (role.value === 'lock') return yes.value && certainty.value !== 'failed' ? '' : 'not locked'
  if (role.value === 'contact') return yes.value ? `${name.value} open, ${since.value}` : name.value
  return name.value
})
const place = computed(() => (typeof state.value.value === 'number' ? state.value.value : 0))
</script>

<template>
  <RouterLink class="opening" :to="`/devices/${reading.device.id}`">
    <LockBolt v-if="role === 'lock'" :label="reading.device.title" :locked="yes" :certainty="certainty" />
    <OpeningPlan v-else-if="role === 'contact'" :label="reading.device.title" :open="yes" :certainty="certainty" />
    <ShutterWindow
      v-else
      size="row"
      :label="`${reading.device.title}, ${state.text}`"
      :place="state.shutter?.known ? state.shutter.place : place"
      :known="state.shutter ? state.shutter.known : certainty !== 'unknown'"
      :moving="state.shutter?.moving"
    />
    <span
      v-if="words"
      class="words"
      :class="{ open: role === 'contact' && yes, wrong: role === 'lock' && certainty === 'failed' }"
      >{{ words }}</span
    >
  </RouterLink>
</template>

<style scoped>
.opening {
  display: inline-flex;
  align-items: center;
  gap: var(--space-6);
  color: var(--ink-soft);
  text-decoration: none;
  min-height: 38px;
}
.words {
  font-size: var(--type-small);
}
.open {
  color: var(--ochre);
}
.wrong {
  color: var(--ember);
  font-weight: 600;
}
.opening:hover .words {
  color: var(--ink);
}
</style>
