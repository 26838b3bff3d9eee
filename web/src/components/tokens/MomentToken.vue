<script setup lang="ts">
import { computed } from 'vue'
import type { Daily } from '@/api/types'
import { readClock } from '@/lib/clock'
import { weekdays } from '@/lib/schedules'
import DurationToken from './DurationToken.vue'
import TokenPicker from './TokenPicker.vue'

/** A time of day in a sentence: by the clock, or by the sun with an offset. */
const moment = defineModel<Daily | undefined>({ required: true })
const props = defineProps<{
  label: string
  days?: boolean
  /** Whether it is one end of a window of time. */ end?: boolean
}>()

const at = props.end ? '' : 'at '
const anchors: { value: Daily['anchor']; title: string }[] = [
  { value: 'clock', title: props.end ? 'the clock’s' : 'at' },
  { value: 'sunrise', title: `${at}sunrise` },
  { value: 'sunset', title: `${at}sunset` },
]
const HALF_HOURS = Array.from({ length: 48 }, (_, i) => {
  const value = `${String(Math.floor(i / 2)).padStart(2, '0')}:${i % 2 ? '30' : '00'}`
  return { value, title: value }
})
const clocks = computed(() => {
  const clock = moment.value?.clock
  return clock && !HALF_HOURS.some((h) => h.value === clock)
    ? [{ value: clock, title: clock }, ...HALF_HOURS]
    : HALF_HOURS
})
const sides = [
  { value: 'after', title: 'after it' },
  { value: 'before', title: 'before it' },
]
const offset = computed(() => moment.value?.offsetMinutes ?? 0)
const side = computed(() => (offset.value < 0 ? 'before' : 'after'))

const change = (part: Partial<Daily>) => (moment.value = { ...(moment.value ?? { anchor: 'clock' }), ...part })
const anchor = (to: Daily['anchor']) =>
  (moment.value =
    to === 'clock'
      ? { anchor: to, clock: '07:00', weekdays: moment.value?.weekdays }
      : { anchor: to, weekdays: moment.value?.weekdays })
const setOffset = (minutes: number, to = side.value) =>
  change({ offsetMinutes: (to === 'before' ? -1 : 1) * Math.abs(minutes) || undefined })

const EVERY = 'every'
const WORK = '1,2,3,4,5'
const WEEKEND = '0,6'
const dayChoices = computed(() => [
  { value: EVERY, title: 'every day' },
  { value: WORK, title: 'Monday to Friday' },
  { value: WEEKEND, title: 'at the weekend' },
  ...weekdays.map((w) => ({ value: String(w.day), title: `on ${w.title}` })),
])
const dayValue = computed(() => (moment.value?.weekdays?.length ? [...moment.value.weekdays].sort().join(',') : EVERY))
const setDays = (value: string) => change({ weekdays: value === EVERY ? undefined : value.split(',').map(Number) })
</script>

<template>
  <TokenPicker
    :model-value="moment?.anchor"
    :choices="anchors"
    :label="`${label}: by what`"
    empty="choose a time"
    @update:model-value="anchor"
  />
  {{ ' ' }}
  <TokenPicker
    v-if="moment?.anchor === 'clock'"
    :model-value="moment.clock"
    :choices="clocks"
    :label="label"
    empty="choose or type a time"
    :typed="readClock"
    @update:model-value="change({ clock: $event })"
  />
  <template v-else-if="moment">
    <DurationToken
      :model-value="Math.abs(offset) * 60"
      :label="`${label}: offset`"
      zero="exactly"
      lead="or "
      @update:model-value="setOffset(Math.round($event / 60))"
    />
    {{ ' ' }}
    <TokenPicker
      v-if="offset"
      :model-value="side"
      :choices="sides"
      :label="`${label}: before or after`"
      @update:model-value="setOffset(offset, $event)"
    />
  </template>
  <template v-if="days && moment">
    {{ ' ' }}
    <TokenPicker
      :model-value="dayValue"
      :choices="dayChoices"
      :label="`${label}: on which days`"
      @update:model-value="setDays"
    />
  </template>
</template>
