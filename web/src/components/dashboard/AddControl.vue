<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Chooses what to put on a board. */
const emit = defineEmits<{ add: [Pick<Control, 'kind' | 'device' | 'property' | 'scene' | 'rule'>] }>()
const home = useHome()

const lamps = computed(() =>
  propertyChoices(home.everything, home.rooms, (p) => p.role === 'power' || p.role === 'brightness'),
)
const values = computed(() => propertyChoices(home.everything, home.rooms))
const scenes = computed(() => home.scenes.map((s) => ({ value: s.id, title: s.title })))
const rules = computed(() => home.rules.map((r) => ({ value: r.id, title: r.title })))

function device(kind: Control['kind'], choice: string) {
  const [id, property] = split(choice)
  emit('add', { kind, device: id, property })
}
</script>

<template>
  <span class="add">
    <span class="soft">Add</span>
    <TokenPicker
      :model-value="undefined"
      :choices="lamps"
      label="Lamp to add"
      empty="a lamp"
      @update:model-value="device('lamp', $event)"
    />
    <TokenPicker
      :model-value="undefined"
      :choices="values"
      label="Value to add"
      empty="a value"
      @update:model-value="device('value', $event)"
    />
    <TokenPicker
      :model-value="undefined"
      :choices="scenes"
      label="Scene to add"
      empty="a scene"
      @update:model-value="emit('add', { kind: 'scene', scene: $event })"
    />
    <TokenPicker
      :model-value="undefined"
      :choices="rules"
      label="Rule to add"
      empty="a rule"
      @update:model-value="emit('add', { kind: 'rule', rule: $event })"
    />
  </span>
</template>

<style scoped>
.add {
  display: inline-flex;
  gap: 14px;
  align-items: baseline;
}
</style>
