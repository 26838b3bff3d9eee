<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import EmptyPage from '@/components/EmptyPage.vue'
import ListDetail from '@/components/ListDetail.vue'
import ListRow from '@/components/ListRow.vue'
import SceneEditor from '@/components/SceneEditor.vue'
import StateMark from '@/components/StateMark.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

const home = useHome()
const notices = useNotices()
const route = useRoute()
const router = useRouter()

const chosen = computed(() => home.scene(String(route.params.id ?? '')))
const rooms = (id: string) => {
  const ids = new Set(home.scene(id)?.targets.map((t) => home.device(t.device)?.room ?? ''))
  return [...ids]
    .map((r) => home.roomTitle(r))
    .filter(Boolean)
    .join(', ')
}

const make = () =>
  notices.attempt(async () => {
    const lamps = home.devices.filter((d) => d.description.properties.some((p) => p.writable)).map((d) => d.id)
    const targets = await ask(api.POST('/api/scenes/capture', { body: { devices: lamps } }))
    const saved = await ask(api.POST('/api/scenes', { body: { title: 'New scene', fadeSeconds: 1, targets } }))
    await home.read('scene')
    await router.push(`/scenes/${saved.id}`)
    notices.done('Captured as the lights are now. Name it, and take out what does not belong.')
  })
</script>

<template>
  <EmptyPage v-if="!home.scenes.length" title="No scenes yet">
    <p>Arrange the real lights as you like them, then capture them. A scene brings them back, with a fade.</p>
    <Button label="Capture the lights as they are now" :disabled="!home.devices.length" @click="make" />
  </EmptyPage>
  <ListDetail v-else title="Scenes" :note="`${home.scenes.length}`">
    <template #tools>
      <div class="tools"><Button severity="secondary" label="Capture a new scene" @click="make" /></div>
    </template>
    <template #list>
      <ListRow v-for="s in home.scenes" :key="s.id" :to="`/scenes/${s.id}`" :chosen="s.id === chosen?.id">
        <template #mark><StateMark :mark="s.inEffect ? 'on' : 'off'" /></template>
        {{ s.title }}
        <template #value>{{ s.inEffect ? 'in effect' : '' }}</template>
        <template #reason>{{ s.targets.length }} values{{ rooms(s.id) ? ` · ${rooms(s.id)}` : '' }}</template>
      </ListRow>
    </template>
    <SceneEditor v-if="chosen" :key="chosen.id" :scene="chosen" />
    <p v-else-if="route.params.id" class="soft">This scene was deleted.</p>
    <p v-else class="soft">Choose a scene to try it or change it.</p>
  </ListDetail>
</template>

<style scoped>
.tools {
  padding: 0 18px 10px;
}
</style>
