<script setup lang="ts">
import CalendarList from '@/components/household/CalendarList.vue'
import GroupList from '@/components/household/GroupList.vue'
import ModeList from '@/components/household/ModeList.vue'
import NoticeList from '@/components/household/NoticeList.vue'
import VariableList from '@/components/household/VariableList.vue'
</script>

<template>
  <div class="page">
    <h1>Household</h1>
    <p class="soft">
      What rules share: the mode of the house, groups of devices, named values and calendars; and what was told.
    </p>
    <div class="columns">
      <div>
        <ModeList />
        <VariableList />
      </div>
      <div>
        <NoticeList />
        <GroupList />
        <CalendarList />
      </div>
    </div>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: var(--space-20) var(--space-26) var(--space-60);
}
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(420px, 100%), 1fr));
  gap: var(--space-44);
  margin-top: var(--space-20);
  align-items: start;
}
.columns > div {
  min-width: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--space-34);
}
</style>
