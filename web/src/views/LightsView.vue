<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Light } from '@/api/types'
import LightEditor from '@/components/light/LightEditor.vue'
import LightsOverview from '@/components/overview/LightsOverview.vue'
import StateMark from '@/components/marks/StateMark.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import ListDetail from '@/components/page/ListDetail.vue'
import ListRow from '@/components/page/ListRow.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import { useSession } from '@/stores/session'

/** The light of every room as one thing. */
const home = useHome()
const session = useSession()
const notices = useNotices()
const route = useRoute()
const router = useRouter()

const chosen = computed(() => home.lights.find((l) => l.id === route.params.id))
const scene = (l: Light) => home.scene(l.scene)?.title ?? ''
const reason = (l: Light) => {
  if (!l.members.length) return 'no lamps'
  return scene(l) ? (l.differs.length ? `${scene(l)}, changed since` : scene(l)) : ''
}
/** The rooms with lamps that have no light of their own yet. */
const without = computed(() => {
  const had = new Set(home.lights.flatMap((l) => l.rooms))
  const lit = new Set(home.devices.filter((d) => d.light).map((d) => d.room ?? ''))
  return home.rooms.filter((r) => lit.has(r.id) && !had.has(r.id))
})
const make = (rooms: { id: string; title: string }[]) =>
  notices.attempt(async () => {
    const made: string[] = []
    for (const r of rooms) {
      // A scene belongs to a room where it sets nothing but its lamps.
      const own = new Set(home.devices.filter((d) => d.room === r.id).map((d) => d.id))
      const scenes = home.scenes
        .filter((s) => s.lights.length && s.targets.every((t) => own.has(t.device)))
        .map((s) => ({ scene: s.id }))
      made.push((await ask(api.POST('/api/lights', { body: { title: r.title, rooms: [r.id], scenes } }))).id)
    }
    for (const id of made) await home.arrived('light', id)
    if (made.length === 1) await router.push(`/lights/${made[0]}`)
    notices.done(made.length === 1 ? `${rooms[0]!.title} made.` : `${made.length} made.`, async () => {
      for (const id of made) await ask(api.DELETE('/api/lights/{id}', { params: { path: { id } } }))
    })
  })
</script>

<template>
  <EmptyPage v-if="!home.lights.length" title="No room’s light yet">
    <p>
      The lamps of a room, whoever made them, are one light here: dimmed together, warmer or cooler, in scenes that a
      key steps through.
    </p>
    <Button v-if="session.setsUp && without.length" label="Make the light of every room" @click="make(without)" />
    <p v-else-if="!without.length" class="soft">There are no lamps in any room yet.</p>
  </EmptyPage>
  <ListDetail v-else title="Rooms" :note="`${home.lights.length}`" :chosen="!!route.params.id" back="/lights">
    <template v-if="session.setsUp && without.length" #tools>
      <div class="tools">
        <Button
          v-for="r in without"
          :key="r.id"
          size="small"
          severity="secondary"
          :label="`Make the light of ${r.title}`"
          @click="make([r])"
        />
      </div>
    </template>
    <template #list>
      <ListRow v-for="l in home.lights" :key="l.id" :to="`/lights/${l.id}`" :chosen="l.id === chosen?.id">
        <template #mark><StateMark :mark="l.on ? 'on' : 'off'" /></template>
        {{ l.title }}
        <template #value>{{ l.on ? `${l.on} on` : '' }}</template>
        <template #reason>{{ reason(l) }}</template>
      </ListRow>
    </template>
    <LightsOverview v-if="!session.setsUp" />
    <LightEditor v-else-if="chosen" :key="chosen.id" :light="chosen" />
    <p v-else-if="route.params.id" class="soft">This light was deleted.</p>
    <LightsOverview v-else />
  </ListDetail>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6);
  padding: 0 var(--space-16) var(--space-10);
}
</style>
