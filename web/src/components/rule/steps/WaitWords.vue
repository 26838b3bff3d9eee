<script setup lang="ts">
import type { Step } from '@/api/types'
import DurationToken from '@/components/tokens/DurationToken.vue'
import ExpressionToken from '@/components/tokens/ExpressionToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** How long a step waits. */
const step = defineModel<Step>({ required: true })
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })
</script>

<template>
  <TokenPicker
    :model-value="step.expression === undefined ? 'fixed' : 'worked'"
    :choices="[
      { value: 'fixed', title: 'for' },
      { value: 'worked', title: 'for as many seconds as is worked out:' },
    ]"
    label="How the time is given"
    @update:model-value="
      change({
        expression: $event === 'worked' ? '' : undefined,
        forSeconds: $event === 'worked' ? undefined : 60,
        toSeconds: undefined,
      })
    "
  />
  {{ ' ' }}
  <ExpressionToken
    v-if="step.expression !== undefined"
    :model-value="step.expression"
    label="How many seconds to wait"
    empty="write an expression"
    @update:model-value="change({ expression: $event })"
  />
  <DurationToken
    v-else
    :model-value="step.forSeconds || undefined"
    label="How long to wait"
    @update:model-value="change({ forSeconds: $event })"
  />
  {{ ' ' }}
  <template v-if="step.toSeconds">
    to
    <DurationToken
      :model-value="step.toSeconds"
      label="At longest"
      @update:model-value="change({ toSeconds: $event || undefined })"
    />
    <span class="soft"> by chance</span>
  </template>
  <button
    v-else-if="step.expression === undefined"
    type="button"
    class="plain link small"
    @click="change({ toSeconds: (step.forSeconds ?? 0) * 2 || 60 })"
  >
    by chance
  </button>
</template>

<style scoped>
.small {
  font-size: var(--type-small);
}
</style>
