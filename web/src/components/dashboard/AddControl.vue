<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { controlKinds, type NewControl } from './controls'

/** Chooses what to put on a board. */
const emit = defineEmits<{ add: [NewControl] }>()
const home = useHome()

const kinds = computed(() =>
  (Object.keys(controlKinds) as Control['kind'][]).map((kind) => ({
    kind,
    ...controlKinds[kind],
    offered: controlKinds[kind].choices(home),
  })),
)
</script>

<template>
  <span class="add">
    <span class="soft">Add</span>
    <TokenPicker
      v-for="k in kinds"
      :key="k.kind"
      :model-value="undefined"
      :choices="k.offered"
      :label="k.label"
      :empty="k.adds"
      @update:model-value="emit('add', { kind: k.kind, ...k.make($event) })"
    />
  </span>
</template>

<style scoped>
.add {
  display: inline-flex;
  gap: var(--space-14);
  align-items: baseline;
}
</style>
