<script setup lang="ts">
import Checkbox from 'primevue/checkbox'

/** Whether something is left out of what the household is offered. */
const model = defineModel<boolean | undefined>({ required: true })
</script>

<template>
  <label class="check">
    <Checkbox :model-value="!!model" binary @update:model-value="model = $event || undefined" />
    Hidden from the household
    <span class="soft">Keys, rules and dashboards that have it work all the same.</span>
  </label>
</template>

<style scoped>
.check {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6);
  align-items: center;
  font-size: var(--type-small);
  margin: var(--space-8) 0;
}
</style>
