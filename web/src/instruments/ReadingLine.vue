<script setup lang="ts">
import { computed } from 'vue'
import type { FaceSize } from '@/lib/faces'
import { useHome } from '@/stores/home'
import { BESIDE, useLines } from '@/stores/lines'
import SparkLine from './SparkLine.vue'

/** How a reading went over the last hours. */
const props = withDefaults(defineProps<{ device: string; property: string; hours?: number; size?: FaceSize }>(), {
  hours: BESIDE.hours,
})
const home = useHome()
const HOUR = 3_600_000
const series = () => `${props.device}~${props.property}`
const reach = computed(() => ({ ...BESIDE, hours: props.hours }))
const lineOf = useLines(() => [series()], reach)
</script>

<template>
  <SparkLine :points="lineOf(series())" :from="home.now - hours * HOUR" :to="home.now" :size="size" />
</template>
