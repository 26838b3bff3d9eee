<script setup lang="ts">
import type { FaceSize } from '@/lib/faces'
import { useHome } from '@/stores/home'
import { LINES_OVER, useLines } from '@/stores/lines'
import SparkLine from './SparkLine.vue'

/** How a reading went over the last hours. */
const props = defineProps<{ device: string; property: string; size?: FaceSize }>()
const home = useHome()
const series = () => `${props.device}~${props.property}`
const lineOf = useLines(() => [series()])
</script>

<template>
  <SparkLine :points="lineOf(series())" :from="home.now - LINES_OVER" :to="home.now" :size="size" />
</template>
