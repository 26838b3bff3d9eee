<script setup lang="ts">
import { computed } from 'vue'
import type { Trigger } from '@/api/types'
import { useHome } from '@/stores/home'
import DurationToken from '@/components/tokens/DurationToken.vue'
import TextToken from '@/components/tokens/TextToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Which entries of a calendar start a rule, and when. */
const trigger = defineModel<Trigger>({ required: true })
const home = useHome()
const change = (part: Partial<Trigger>) => (trigger.value = { ...trigger.value, ...part })

const MINUTE = 60
type Moment = 'at' | 'before' | 'after'
const edges = [
  { value: 'begins', title: 'begins' },
  { value: 'ends', title: 'ends' },
]
const moments: { value: Moment; title: string }[] = [
  { value: 'at', title: 'right then' },
  { value: 'before', title: 'before that' },
  { value: 'after', title: 'after that' },
]
const calendars = computed(() => home.calendars.map((c) => ({ value: c.id, title: c.title })))
const offset = computed(() => trigger.value.offsetMinutes ?? 0)
const moment = computed<Moment>(() => (offset.value < 0 ? 'before' : offset.value > 0 ? 'after' : 'at'))
const setOffset = (minutes: number, to = moment.value) =>
  change({ offsetMinutes: (to === 'before' ? -1 : 1) * Math.round(Math.abs(minutes)) || undefined })
const goTo = (to: Moment) => (to === 'at' ? change({ offsetMinutes: undefined }) : setOffset(offset.value || 15, to))
</script>

<template>
  <span class="soft">of</span>
  {{ ' ' }}
  <TokenPicker
    :model-value="trigger.calendar"
    :choices="calendars"
    label="Calendar"
    empty="choose a calendar"
    @update:model-value="change({ calendar: $event })"
  />
  {{ ' ' }}
  <span class="soft">with</span>
  {{ ' ' }}
  <TextToken
    :model-value="trigger.words"
    label="Words in its title"
    empty="any title"
    :maximum="80"
    help="All of these words must be in the title of the event. Without any, every event counts."
    @update:model-value="change({ words: $event || undefined })"
  />
  {{ ' ' }}
  <TokenPicker
    :model-value="trigger.ends ? 'ends' : 'begins'"
    :choices="edges"
    label="Its beginning or its end"
    @update:model-value="change({ ends: $event === 'ends' || undefined })"
  />
  <span class="soft">,</span>
  {{ ' ' }}
  <DurationToken
    v-if="moment !== 'at'"
    :model-value="Math.abs(offset) * MINUTE"
    label="How long before or after"
    @update:model-value="setOffset($event / MINUTE)"
  />
  {{ ' ' }}
  <TokenPicker :model-value="moment" :choices="moments" label="When, from there" @update:model-value="goTo" />
</template>
