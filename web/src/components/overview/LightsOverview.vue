<script setup lang="ts">
import { RouterLink } from 'vue-router'
import RoomLightFace from '@/instruments/RoomLightFace.vue'
import { useHome } from '@/stores/home'

/** How bright every room is, each set from its row. */
const home = useHome()
</script>

<template>
  <section aria-label="How bright the rooms are">
    <h2>How bright the rooms are</h2>
    <ul>
      <li v-for="l in home.lights" :key="l.id">
        <RouterLink class="named" :to="`/lights/${l.id}`">{{ l.title }}</RouterLink>
        <RoomLightFace :light="l" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin-top: var(--space-8);
  border-top: 1px solid var(--ink);
}
li {
  display: grid;
  grid-template-columns: minmax(90px, 160px) minmax(0, 1fr);
  gap: var(--space-14);
  align-items: center;
  min-height: 52px;
  border-bottom: 1px solid var(--rule);
}
@media (max-width: 720px) {
  li {
    grid-template-columns: minmax(0, 1fr);
    gap: 0;
  }
}
</style>
