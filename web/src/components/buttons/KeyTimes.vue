<script setup lang="ts">
import { computed } from 'vue'
import type { Device } from '@/api/types'
import NumberToken from '@/components/tokens/NumberToken.vue'
import { documentOf } from '@/lib/documents'
import { useEdits } from '@/stores/edits'
import { useNotices } from '@/stores/notices'

/** How presses of a device's keys are told apart, where the hub does that. */
const props = defineProps<{ device: Device }>()
const edits = useEdits()
const notices = useNotices()

type Time = 'within' | 'hold' | 'limit'
const PER_SECOND = 1000
const inSeconds = (field: Time) => (props.device.times?.[field] ?? 0) / PER_SECOND
const holds = computed(() => Object.values(props.device.gestures ?? {}).some((g) => g.made?.includes('hold')))
const set = (field: Time, seconds: number) =>
  notices.attempt(async () => {
    const before = documentOf('device', props.device)
    const after = { ...before, keys: { ...before.keys, [field]: Math.round(seconds * PER_SECOND) } }
    await edits.now('device', props.device.id, before, after)
    notices.done(`${props.device.title} saved.`, () => edits.now('device', props.device.id, after, before))
  })
</script>

<template>
  <h2>Timing</h2>
  <p class="small">
    Presses up to
    <NumberToken
      :model-value="inSeconds('within')"
      label="Time between two presses"
      unit="s"
      :minimum="0.1"
      :maximum="3"
      @update:model-value="set('within', $event)"
    />
    apart belong together.
    <template v-if="holds">
      A key is held after
      <NumberToken
        :model-value="inSeconds('hold')"
        label="Time until a key is held"
        unit="s"
        :minimum="0.1"
        :maximum="3"
        @update:model-value="set('hold', $event)"
      />, and counts as released after
      <NumberToken
        :model-value="inSeconds('limit')"
        label="Longest time that a key is held"
        unit="s"
        :minimum="0.5"
        :maximum="600"
        @update:model-value="set('limit', $event)"
      />
      at the latest.
    </template>
  </p>
</template>

<style scoped>
.small {
  font-size: var(--type-small);
  margin: 0;
}
</style>
