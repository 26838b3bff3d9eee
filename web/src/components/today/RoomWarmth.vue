<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import SparkLine from '@/instruments/SparkLine.vue'
import { seriesOf, type Reading } from '@/lib/houseNow'
import { useHome } from '@/stores/home'
import { LINES_OVER, type LinePoint } from '@/stores/lines'

/** How warm a room is, with the line of the last hours and what is wanted. */
const props = defineProps<{ warmth: Reading; wanted?: Reading; line: LinePoint[] }>()
const home = useHome()

const figure = computed(() =>
  typeof props.warmth.state.value === 'number' ? props.warmth.state.value.toFixed(1) : '–',
)
</script>

<template>
  <RouterLink
    class="warmth"
    :to="`/history?series=${seriesOf(warmth)}`"
    :title="`${warmth.device.title}, the last 6 hours`"
  >
    <span class="mono figure" :class="{ stale: warmth.device.silent }">{{ figure }}<small>°</small></span>
    <SparkLine :points="line" :from="home.now - LINES_OVER" :to="home.now" />
    <span v-if="wanted && typeof wanted.state.value === 'number'" class="soft wanted"
      >to {{ wanted.state.value.toFixed(1) }}</span
    >
  </RouterLink>
</template>

<style scoped>
.warmth {
  display: inline-flex;
  align-items: center;
  gap: var(--space-6);
  color: var(--ink);
  text-decoration: none;
}
.figure {
  font-size: var(--type-lead);
  min-width: 54px;
  text-align: right;
}
small {
  font-size: var(--type-note);
}
.stale {
  color: var(--ink-soft);
  text-decoration: line-through dotted;
}
.wanted {
  font-size: var(--type-small);
}
.warmth:hover .figure {
  color: var(--verdigris);
}
</style>
