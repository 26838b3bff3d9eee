<script setup lang="ts">
import MultiSelect from 'primevue/multiselect'
import { computed } from 'vue'
import { PANELS } from '@/lib/panel/settings'
import { useHome } from '@/stores/home'

/** Who sees something: everybody, or some roles and people. */
const model = defineModel<string[] | undefined>({ required: true })
const props = defineProps<{ label: string; guests?: boolean }>()
const home = useHome()
const choices = computed(() => [
  { id: 'owner', title: 'Owners' },
  { id: 'member', title: 'Members' },
  ...(props.guests
    ? [
        { id: 'guest', title: 'Guests' },
        { id: 'panel', title: 'Panels' },
        ...home.devices.filter((d) => d.connection === PANELS).map((d) => ({ id: d.id, title: d.title })),
      ]
    : []),
  ...home.people.filter((p) => props.guests || p.role !== 'guest').map((p) => ({ id: p.id, title: p.title })),
])
</script>

<template>
  <MultiSelect
    :model-value="model ?? []"
    :options="choices"
    option-value="id"
    option-label="title"
    placeholder="Everybody"
    :aria-label="label"
    :show-toggle-all="false"
    @update:model-value="model = $event.length ? $event : undefined"
  />
</template>
