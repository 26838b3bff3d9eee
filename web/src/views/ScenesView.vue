<script setup lang="ts">
import Button from 'primevue/button'
import { computed, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import EmptyPage from '@/components/page/EmptyPage.vue'
import ListDetail from '@/components/page/ListDetail.vue'
import LongList from '@/components/page/LongList.vue'
import ListRow from '@/components/page/ListRow.vue'
import SceneEditor from '@/components/light/SceneEditor.vue'
import SequenceEditor from '@/components/light/SequenceEditor.vue'
import StateMark from '@/components/marks/StateMark.vue'
import { duration } from '@/lib/format'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'
import { useNotices } from '@/stores/notices'
import CaptureScene from '@/components/light/CaptureScene.vue'
import ScenesOverview from '@/components/overview/ScenesOverview.vue'

const home = useHome()
const session = useSession()
const notices = useNotices()
const route = useRoute()
const router = useRouter()

const chosen = computed(() => home.scene(String(route.params.id ?? '')))
const sequence = computed(() => home.sequence(String(route.params.id ?? '')))
watchEffect(() => {
  if (sequence.value?.effect) void router.replace(`/moving/${sequence.value.id}`)
})
const rooms = (id: string) => {
  const ids = new Set(home.scene(id)?.targets.map((t) => home.device(t.device)?.room ?? ''))
  return [...ids]
    .map((r) => home.roomTitle(r))
    .filter(Boolean)
    .join(', ')
}

// Light that moves has a page of its own.
const sequences = computed(() => home.sequences.filter((s) => !s.effect))

const NEW = 'new'
const make = () => router.push(`/scenes/${NEW}`)

const line = () =>
  notices.attempt(async () => {
    const saved = await ask(
      api.POST('/api/sequences', { body: { title: 'New sequence', passages: [], ending: 'repeat' } }),
    )
    await home.arrived('sequence', saved.id)
    await router.push(`/scenes/${saved.id}`)
  })
</script>

<template>
  <EmptyPage v-if="!home.scenes.length && !home.sequences.length && route.params.id !== NEW" title="No scenes yet">
    <p>Arrange the real lights as you like them, then capture them. A scene brings them back, with a fade.</p>
    <Button v-if="session.setsUp" label="New scene" @click="make" />
  </EmptyPage>
  <ListDetail v-else title="Scenes" :note="`${home.scenes.length}`" :chosen="!!route.params.id" back="/scenes">
    <template v-if="session.setsUp" #tools>
      <div class="tools">
        <Button severity="secondary" label="New scene" @click="make" />
        <Button severity="secondary" label="New sequence" @click="line" />
      </div>
    </template>
    <template #list>
      <LongList v-slot="{ item: s }" :items="home.scenes" :item-key="(row) => row.id">
        <ListRow :to="`/scenes/${s.id}`" :chosen="s.id === chosen?.id">
          <template #mark><StateMark :mark="s.inEffect ? 'on' : 'off'" /></template>
          {{ s.title }}
          <template #value>{{ s.inEffect ? 'in effect' : '' }}</template>
          <template #reason>{{
            [s.targets.length === 1 ? '1 value' : `${s.targets.length || 'no'} values`, rooms(s.id)]
              .filter(Boolean)
              .join(' · ')
          }}</template>
        </ListRow>
      </LongList>
      <h2 v-if="sequences.length" class="part">Sequences</h2>
      <ListRow v-for="s in sequences" :key="s.id" :to="`/scenes/${s.id}`" :chosen="s.id === sequence?.id">
        <template #mark><StateMark :mark="s.state.running ? 'on' : 'off'" /></template>
        {{ s.title }}
        <template #value>{{ s.state.running ? 'running' : '' }}</template>
        <template #reason
          >{{ s.passages.length }} scenes · {{ duration(s.totalSeconds)
          }}{{ s.ending === 'repeat' ? ', repeats' : '' }}</template
        >
      </ListRow>
    </template>
    <ScenesOverview v-if="!session.setsUp" />
    <CaptureScene v-else-if="route.params.id === NEW" />
    <SceneEditor v-else-if="chosen" :key="chosen.id" :scene="chosen" />
    <SequenceEditor v-else-if="sequence" :key="sequence.id" :sequence="sequence" />
    <p v-else-if="route.params.id" class="soft">This scene was deleted.</p>
    <ScenesOverview v-else />
  </ListDetail>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  padding: 0 var(--space-16) var(--space-10);
}
.part {
  padding: var(--space-14) var(--space-16) var(--space-6);
}
</style>
