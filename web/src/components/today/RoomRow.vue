<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import DeviceLamp from '@/instruments/DeviceLamp.vue'
import { presence, type RoomNow } from '@/lib/houseNow'
import { useHome } from '@/stores/home'
import RoomOpening from './RoomOpening.vue'

/** A room in a list for the thumb: what is so in it, its lamps to tap, and the way to all that is in it. */
const props = defineProps<{ room: RoomNow }>()
const home = useHome()
const words = computed(() => {
  const { warmth, air, somebody } = props.room
  const who = presence(somebody)
  return [
    warmth && !warmth.device.silent ? warmth.state.text : '',
    ...air.map((r) => r.state.text),
    who?.now ? 'somebody now' : who?.at ? `somebody ${home.times.since(who.at, home.now)}` : '',
  ]
    .filter(Boolean)
    .join(' · ')
})
const alerts = computed(() => props.room.notes.filter((n) => n.property.role !== 'level'))
</script>

<template>
  <li>
    <RouterLink class="to" :to="`/room/${room.id}`">
      <b>{{ room.title }}</b>
      <span class="soft small">
        {{ words }}
        <span v-for="n in alerts" :key="n.device.id" class="alert">{{ n.device.title }} {{ n.state.text }}</span>
      </span>
    </RouterLink>
    <span class="things">
      <RoomOpening v-for="r in room.openings" :key="r.device.id + r.property.name" :reading="r" />
      <DeviceLamp v-for="d in room.lamps" :key="d.id" :device="d" />
    </span>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--space-10);
  align-items: center;
  min-height: 62px;
  border-bottom: 1px solid var(--rule);
}
.to {
  display: grid;
  align-content: center;
  min-height: 62px;
  color: inherit;
  text-decoration: none;
}
.small {
  font-size: var(--type-small);
}
.things {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  align-items: center;
  gap: var(--space-2) var(--space-8);
}
.alert {
  color: var(--ember);
  font-weight: 600;
}
</style>
