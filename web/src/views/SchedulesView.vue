<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import EmptyPage from '@/components/page/EmptyPage.vue'
import ListDetail from '@/components/page/ListDetail.vue'
import LongList from '@/components/page/LongList.vue'
import ListRow from '@/components/page/ListRow.vue'
import ScheduleEditor from '@/components/schedule/ScheduleEditor.vue'
import StateMark from '@/components/marks/StateMark.vue'
import { timeWords } from '@/lib/schedules'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import SchedulesOverview from '@/components/overview/SchedulesOverview.vue'

const home = useHome()
const notices = useNotices()
const route = useRoute()
const router = useRouter()

const chosen = computed(() => home.schedules.find((s) => s.id === route.params.id))

const make = () =>
  notices.attempt(async () => {
    const saved = await ask(
      api.POST('/api/schedules', {
        body: { title: 'New schedule', enabled: true, at: { anchor: 'clock', clock: '18:00' }, do: [] },
      }),
    )
    await home.arrived('schedule', saved.id)
    await router.push(`/schedules/${saved.id}`)
  })
</script>

<template>
  <EmptyPage v-if="!home.schedules.length" title="No schedules yet">
    <p>A schedule takes steps at a time of day, or before or after sunrise or sunset, on the days you choose.</p>
    <Button label="Make a schedule" @click="make" />
  </EmptyPage>
  <ListDetail v-else title="Schedules" :note="`${home.schedules.length}`" :chosen="!!route.params.id" back="/schedules">
    <template #tools>
      <div class="tools"><Button severity="secondary" label="Make a schedule" @click="make" /></div>
    </template>
    <template #list>
      <LongList v-slot="{ item: s }" :items="home.schedules" :item-key="(row) => row.id">
        <ListRow :to="`/schedules/${s.id}`" :chosen="s.id === chosen?.id">
          <template #mark><StateMark :mark="s.state.problems.length ? 'failed' : s.enabled ? 'on' : 'off'" /></template>
          {{ s.title }}
          <template #value>{{ s.state.next ? home.times.since(s.state.next, home.now) : '–' }}</template>
          <template #reason>{{ s.state.problems[0]?.message ?? timeWords(s.at) }}</template>
        </ListRow>
      </LongList>
    </template>
    <ScheduleEditor v-if="chosen" :key="chosen.id" :schedule="chosen" />
    <p v-else-if="route.params.id" class="soft">This schedule was deleted.</p>
    <SchedulesOverview v-else />
  </ListDetail>
</template>

<style scoped>
.tools {
  padding: 0 var(--space-16) var(--space-10);
}
</style>
