<script setup lang="ts">
import type { Device, Property, PropertyState } from '@/api/types'
import { useHome } from '@/stores/home'
import ReasonLine from '@/components/marks/ReasonLine.vue'

/** Why a property is as it is, or since when. */
defineProps<{ device?: Device; property?: Property; state?: PropertyState }>()
const home = useHome()
</script>

<template>
  <template v-if="!device">It is no longer in the home</template>
  <template v-else-if="device.silent">{{ device.silentReason }}</template>
  <ReasonLine v-else-if="state && property?.writable" :state="state" />
  <template v-else-if="state?.changedAt">since {{ home.times.since(state.changedAt, home.now) }}</template>
</template>
