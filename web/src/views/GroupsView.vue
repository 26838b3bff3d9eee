<script setup lang="ts">
import GroupList from '@/components/household/GroupList.vue'
import PlainPage from '@/components/page/PlainPage.vue'
import VariableList from '@/components/household/VariableList.vue'
</script>

<template>
  <PlainPage title="Groups and variables">
    <template #lead>Devices and values with a name of their own, which rules share.</template>
    <div class="columns">
      <GroupList />
      <VariableList />
    </div>
  </PlainPage>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(420px, 100%), 1fr));
  gap: var(--space-34) var(--space-44);
  align-items: start;
}
</style>
