<script setup lang="ts">
import { computed } from 'vue'
import type { Choice } from '@/lib/choice'
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
}>()
const emit = defineEmits<{ choose: [number, string]; drop: [number] }>()
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
