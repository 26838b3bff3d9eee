<script setup lang="ts">
import { computed } from 'vue'
import type { Condition } from '@/api/types'
import { useHome } from '@/stores/home'
import TextToken from '@/components/tokens/TextToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Which event of a calendar must be on. */
type EventNow = NonNullable<Condition['event']>
const event = defineModel<EventNow>({ required: true })
const home = useHome()
const change = (part: Partial<EventNow>) => (event.value = { ...event.value, ...part })

const calendars = computed(() => home.calendars.map((c) => ({ value: c.id, title: c.title })))
const kinds = [
  { value: 'any', title: 'any length' },
  { value: 'days', title: 'whole days' },
]
</script>

<template>
  <span class="soft">is on now, in</span>
  {{ ' ' }}
  <TokenPicker
    :model-value="event.calendar || undefined"
    :choices="calendars"
    label="Calendar"
    :empty="calendars.length ? 'choose a calendar' : 'no calendar yet'"
    @update:model-value="change({ calendar: $event })"
  />
  {{ ' ' }}
  <span class="soft">with</span>
  {{ ' ' }}
  <TextToken
    :model-value="event.words"
    label="Words in its title"
    empty="any title"
    :maximum="80"
    help="All of these words must be in the title of the event. Without any, every event counts."
    @update:model-value="change({ words: $event || undefined })"
  />
  <span class="soft">, of</span>
  {{ ' ' }}
  <TokenPicker
    :model-value="event.wholeDays ? 'days' : 'any'"
    :choices="kinds"
    label="How long the event is"
    @update:model-value="change({ wholeDays: $event === 'days' || undefined })"
  />
</template>
