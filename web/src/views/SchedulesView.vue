<script setup lang="ts">
import { api, ask } from '@/api/client'
import type { Schedule, ScheduleDocument } from '@/api/types'
import DefinitionsPage from '@/components/documents/DefinitionsPage.vue'
import SchedulesOverview from '@/components/overview/SchedulesOverview.vue'
import ScheduleEditor from '@/components/schedule/ScheduleEditor.vue'
import { timeWords } from '@/lib/schedules'
import { useHome } from '@/stores/home'

/** Schedules: steps that are taken at times of the day. */
const home = useHome()
const mark = (s: Schedule) => {
  if (s.state.problems.length) return 'failed'
  return s.enabled ? 'on' : 'off'
}
const create = async () => {
  const body: ScheduleDocument = {
    title: 'New schedule',
    enabled: true,
    at: { anchor: 'clock', clock: '18:00' },
    do: [],
  }
  return (await ask(api.POST('/api/schedules', { body }))).id
}
</script>

<template>
  <DefinitionsPage title="Schedules" one="schedule" :items="home.schedules" :mark="mark" :create="create">
    <template #empty>
      A schedule takes steps at a time of day, or before or after sunrise or sunset, on the days you choose.
    </template>
    <template #value="{ item }">{{ item.state.next ? home.times.since(item.state.next, home.now) : '–' }}</template>
    <template #reason="{ item }">{{ item.state.problems[0]?.message ?? timeWords(item.at) }}</template>
    <template #default="{ chosen }"><ScheduleEditor :key="chosen.id" :schedule="chosen" /></template>
    <template #overview><SchedulesOverview /></template>
  </DefinitionsPage>
</template>
