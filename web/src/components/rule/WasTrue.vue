<script setup lang="ts">
import type { ConditionState } from '@/api/types'
import { useHome } from '@/stores/home'

/** When a condition that is not true now last was. */
defineProps<{ state: ConditionState | undefined }>()
const home = useHome()
</script>

<template>
  <span v-if="state?.lastTrue && !state.truth" class="was"
    >last true {{ home.times.moment(state.lastTrue, home.now) }}</span
  >
</template>

<style scoped>
.was {
  display: block;
  line-height: 1.3;
}
</style>
