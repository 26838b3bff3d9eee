<script setup lang="ts">
import { computed } from 'vue'
import type { Choice } from '@/lib/choice'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** What feeds a link, or what it sets: one after the other, and one more. */
const props = defineProps<{
  values: string[]
  choices: Choice[]
  label: string
  empty: string
  /** What removing one is called. */
  removing: string
  problem?: string
  /** What those count as that carry no number, each at its place. */
  counts?: (number | undefined)[]
}>()
const emit = defineEmits<{ choose: [number, string]; drop: [number]; count: [number, number] }>()
const rows = computed(() => [...props.values, ''])
</script>

<template>
  <span v-for="(value, i) in rows" :key="i" class="end">
    <TokenPicker
      :model-value="value || undefined"
      :choices="choices"
      :label="label"
      :empty="i ? 'and …' : empty"
      :verb="!!i && !value"
      lately
      @update:model-value="emit('choose', i, $event)"
    />
    <template v-if="value && counts?.[i] !== undefined">
      <span class="soft">is</span>
      <NumberToken :model-value="counts[i]" label="What it counts as" @update:model-value="emit('count', i, $event)" />
    </template>
    <button v-if="value" type="button" class="plain soft" :aria-label="removing" @click="emit('drop', i)">×</button>
  </span>
  <span v-if="problem" class="problem">{{ problem }}</span>
</template>

<style scoped>
.end {
  display: flex;
  gap: var(--space-6);
  align-items: baseline;
}
.problem {
  color: var(--ember);
  font-size: var(--type-small);
}
</style>
