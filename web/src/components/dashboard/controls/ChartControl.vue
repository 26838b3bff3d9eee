<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, defineAsyncComponent, ref } from 'vue'
import type { Control, Series } from '@/api/types'
import { useHome } from '@/stores/home'
import { useLines } from '@/stores/lines'
import { optionOf } from '../cell'
import ControlFace from './ControlFace.vue'

/** Several readings over the last hours in one drawing, each named in its color. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const SeriesChart = defineAsyncComponent(() => import('@/components/history/SeriesChart.vue'))

const COLORS = ['--verdigris', '--ember', '--slate', '--plum', '--ochre']
const POINTS = 120
const HOUR = 3_600_000
const MINUTE = 60_000
const hours = computed(() => optionOf(props.control, 'hours', 6))
const refs = computed(() => props.control.values ?? [])
const lineOf = useLines(
  () => refs.value.map((v) => `${v.device}~${v.name}`),
  computed(() => ({ hours: hours.value, points: POINTS })),
)
const minute = computed(() => Math.floor(home.now / MINUTE) * MINUTE)
const span = computed(() => ({ from: minute.value - hours.value * HOUR, to: minute.value + MINUTE }))
const lines = computed(() =>
  refs.value.flatMap((v, i) => {
    const device = home.device(v.device)
    const property = home.property(v.device, v.name)
    if (!device || !property) return []
    const points = lineOf(`${v.device}~${v.name}`).map((p) => ({
      at: new Date(p.at).toISOString(),
      value: p.value,
      least: p.value,
      most: p.value,
    }))
    const series: Series = { device: v.device, property: v.name, points, spanSeconds: 0 }
    return [{ title: device.title, property, series, color: COLORS[i % COLORS.length]! }]
  }),
)
const frame = ref<HTMLElement>()
const { height } = useElementSize(frame)
const LOWEST = 110
const known = computed(() => lines.value.filter((l) => (l.series.points ?? []).length))
</script>

<template>
  <ControlFace grows :title="control.label || 'Chart'">
    <template #reason>{{ hours }} h</template>
    <template #foot>
      <ul class="names">
        <li v-for="l in lines" :key="l.series.device + l.series.property">
          <i :style="{ background: `var(${l.color})` }" aria-hidden="true" />{{ l.title }}
          <b class="mono">{{ home.state(l.series.device, l.series.property)?.text }}</b>
        </li>
      </ul>
      <div v-if="known.length" ref="frame" class="drawn">
        <SeriesChart
          :lines="known"
          :span="span"
          :height="Math.max(LOWEST, Math.floor(height))"
          :label="control.label || 'Chart'"
        />
      </div>
      <p v-else class="soft">Nothing recorded in this time.</p>
    </template>
  </ControlFace>
</template>

<style scoped>
.names {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-16);
  font-size: var(--type-small);
}
i {
  display: inline-block;
  width: 14px;
  height: 4px;
  margin-right: var(--space-6);
  vertical-align: middle;
}
.drawn {
  flex: 1 1 0;
  min-height: 110px;
  overflow: hidden;
  margin-top: var(--space-6);
}
</style>
