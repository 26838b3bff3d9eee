<script setup lang="ts">
import type { Control } from '@/api/types'
import { useHome } from '@/stores/home'
import { optionOf, useCell } from '../cell'
import ControlFace from './ControlFace.vue'

/** The time and the date at home. */
defineProps<{ control: Control }>()
const home = useHome()
const { face } = useCell()
</script>

<template>
  <ControlFace
    :title="control.label || (optionOf(control, 'date', true) ? home.times.date(home.now) : 'Clock')"
    :figure="face === 'small' ? home.times.clock(home.now) : ''"
  >
    <template #foot>
      <b class="clock mono">{{
        optionOf(control, 'seconds', false) ? home.times.exact(home.now) : home.times.clock(home.now)
      }}</b>
    </template>
  </ControlFace>
</template>

<style scoped>
.clock {
  font-size: min(var(--type-clock), 22cqi);
  font-weight: 400;
  letter-spacing: -0.03em;
  line-height: 1;
}
</style>
