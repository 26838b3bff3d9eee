<script setup lang="ts">
import MultiSelect from 'primevue/multiselect'

/** Which lamps something has: those of rooms, or of their lights, and others besides. */
interface Named {
  id: string
  title: string
}
defineProps<{
  of: string[]
  ofChoices: Named[]
  /** What they are called for who does not see them. */
  ofLabel: string
  ofEmpty: string
  besides: string[]
  besidesChoices: Named[]
  besidesLabel: string
}>()
const emit = defineEmits<{ of: [string[]]; besides: [string[] | undefined] }>()
</script>

<template>
  <div class="has">
    <span class="soft">The lamps of</span>
    <MultiSelect
      :model-value="of"
      :options="ofChoices"
      option-value="id"
      option-label="title"
      display="chip"
      :placeholder="ofEmpty"
      :aria-label="ofLabel"
      @update:model-value="emit('of', $event)"
    />
    <span class="soft">and besides</span>
    <MultiSelect
      :model-value="besides"
      :options="besidesChoices"
      option-value="id"
      option-label="title"
      display="chip"
      filter
      placeholder="no others"
      :aria-label="besidesLabel"
      @update:model-value="emit('besides', $event.length ? $event : undefined)"
    />
  </div>
</template>

<style scoped>
.has {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
}
</style>
