<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import PropertyFace from '@/instruments/PropertyFace.vue'
import { certaintyOf } from '@/lib/certainty'
import { span } from '@/lib/care'
import type { Reading } from '@/lib/houseNow'
import { calledIn } from '@/lib/inRoom'
import { useHome } from '@/stores/home'

/** What can be open in a room: a door, a lock, a shutter. Its words are there only where it is not as it mostly is. */
const props = defineProps<{ reading: Reading }>()
const home = useHome()

const role = computed(() => props.reading.property.role)
const state = computed(() => props.reading.state)
const yes = computed(() => state.value.value === true)
const certainty = computed(() => certaintyOf(state.value, props.reading.device.silent))
/** The name of what is in a room, without the room. */
const name = computed(() => calledIn([home.roomTitle(props.reading.device.room)], props.reading.device.title))
const since = computed(() => (state.value.changedAt ? span((home.now - Date.parse(state.value.changedAt)) / 1000) : ''))
const words = computed(() => {
  if (role.value === 'lock') return yes.value && certainty.value !== 'failed' ? '' : 'not locked'
  if (role.value === 'contact') return yes.value ? `${name.value} open, ${since.value}` : name.value
  return name.value
})
</script>

<template>
  <RouterLink class="opening" :to="`/devices/${reading.device.id}`">
    <PropertyFace :device="reading.device" :property="reading.property" :state="state" size="row" />
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
