<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import RoomPicker from '@/components/inputs/RoomPicker.vue'
import type { Taking } from '@/lib/takingIn'

/** Whether a device that is being described is taken into the home at once, and its room. */
const taking = defineModel<Taking>({ required: true })
</script>

<template>
  <span class="taken">
    <label> <Checkbox v-model="taking.taken" binary aria-label="Take it into the home" /> take it into the home </label>
    <RoomPicker v-if="taking.taken" v-model="taking.room" size="small" label="Its room" />
  </span>
</template>

<style scoped>
.taken,
label {
  display: inline-flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
}
</style>
