<script setup lang="ts">
import { RouterLink } from 'vue-router'
import CurveRow from '@/components/light/CurveRow.vue'
import { useHome } from '@/stores/home'

/** Every day curve as it is today, below each other on the same hours. */
const home = useHome()
</script>

<template>
  <section aria-label="The day curves today">
    <h2>Today</h2>
    <ul>
      <li v-for="c in home.curves" :key="c.id">
        <RouterLink class="named" :to="`/curves/${c.id}`">{{ c.title }}</RouterLink>
        <CurveRow :curve="c" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  padding: var(--space-14) 0;
  border-bottom: 1px solid var(--rule);
}
</style>
