<script setup lang="ts">
import type { Curve } from '@/api/types'
import CurveFace from '@/instruments/CurveFace.vue'
import { useCurveDay } from '@/lib/curveDay'

/** A day curve as it is today, to be looked at. */
const props = withDefaults(defineProps<{ curve: Curve; height?: number }>(), { height: 130 })
const { day } = useCurveDay(() => props.curve.points)
</script>

<template>
  <CurveFace v-if="day" :label="`${curve.title} today`" :day="day" :height="height" />
</template>
