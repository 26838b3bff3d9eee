<script setup lang="ts">
import Button from 'primevue/button'
import MultiSelect from 'primevue/multiselect'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import RoomPicker from '@/components/inputs/RoomPicker.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import PageHead from '@/components/page/PageHead.vue'
import PanelCard from '@/components/panel/PanelCard.vue'
import { PANELS } from '@/lib/panel/settings'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** The tablets on the walls: what each shows and senses, how it is set, and new ones. */
const home = useHome()
const notices = useNotices()
const panels = computed(() => home.devices.filter((d) => d.connection === PANELS))

const title = ref('')
const room = ref<string | null>(null)
const given = ref<string[]>([])
const add = () =>
  notices.attempt(async () => {
    const saved = await ask(
      api.POST('/api/panels', {
        body: { title: title.value.trim(), room: room.value || undefined, dashboards: given.value },
      }),
    )
    await home.arrived('device', saved.id)
    title.value = ''
    given.value = []
  })
</script>

<template>
  <div class="page">
    <PageHead title="Panels">
      A tablet’s browser that was let in as a panel shows its dashboards on the wall, and is a device of the home: rules
      use it like any other.
    </PageHead>
    <EmptyPage v-if="!home.dashboards.length" title="A panel needs a dashboard">
      <p><RouterLink class="link" to="/dashboards">Make one first</RouterLink>.</p>
    </EmptyPage>
    <template v-else>
      <PanelCard v-for="p in panels" :key="p.id" :panel="p" />
      <p v-if="!panels.length" class="soft">No panel yet. Name one, and let a tablet in as it.</p>
      <form class="new" aria-label="A new panel" @submit.prevent="add">
        <h2>New panel</h2>
        <input
          v-model="title"
          maxlength="120"
          placeholder="Name, such as Galley panel"
          aria-label="Name of the new panel"
        />
        <RoomPicker v-model="room" label="Room of the new panel" />
        <MultiSelect
          v-model="given"
          :options="home.dashboards"
          option-value="id"
          option-label="title"
          placeholder="Its dashboards, its own first"
          aria-label="Dashboards of the new panel"
        />
        <Button type="submit" label="Add" :disabled="!title.trim() || !given.length" />
      </form>
    </template>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: var(--space-20) var(--space-26) var(--space-44);
}
.new {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-10) var(--space-14);
  align-items: center;
  margin-top: var(--space-20);
  padding-top: var(--space-14);
  border-top: 1px solid var(--rule);
}
h2 {
  flex-basis: 100%;
  margin: 0;
}
.new :deep(.p-select) {
  max-width: 240px;
}
.new > input {
  min-height: var(--touch);
  min-width: 240px;
  padding: 0 var(--space-10);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
}
</style>
