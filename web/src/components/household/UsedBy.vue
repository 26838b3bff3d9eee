<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Use } from '@/api/types'

/** The definitions that refer to something. */
defineProps<{ uses: Use[] }>()
const places: Record<string, string> = {
  rule: '/rules/',
  schedule: '/schedules/',
  scene: '/scenes/',
  sequence: '/scenes/',
  link: '/links/',
  mirror: '/mirrors/',
  light: '/lights/',
  dashboard: '/dashboards/',
}
</script>

<template>
  <p class="small soft">
    <template v-if="uses.length">
      Used by
      <template v-for="(u, i) in uses" :key="u.id"
        >{{ i ? ', ' : ''
        }}<RouterLink class="link" :to="`${places[u.kind] ?? '/'}${u.id}`">{{ u.title }}</RouterLink></template
      >
    </template>
    <template v-else>Nothing uses it yet.</template>
  </p>
</template>

<style scoped>
.small {
  font-size: var(--type-small);
}
</style>
