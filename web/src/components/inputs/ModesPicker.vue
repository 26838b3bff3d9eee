<script setup lang="ts">
import MultiSelect from 'primevue/multiselect'
import { useHome } from '@/stores/home'

/** The modes of the house in which something is so; none is every mode. */
const modes = defineModel<string[]>()
defineProps<{ label: string }>()
const home = useHome()
</script>

<template>
  <MultiSelect
    :model-value="modes ?? []"
    :options="home.modes?.modes ?? []"
    option-label="title"
    option-value="id"
    placeholder="every mode"
    display="chip"
    :aria-label="label"
    @update:model-value="modes = $event.length ? $event : undefined"
  />
</template>
