<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Mirror } from '@/api/types'
import MirrorEditor from '@/components/link/MirrorEditor.vue'
import StateMark from '@/components/marks/StateMark.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import ListDetail from '@/components/page/ListDetail.vue'
import ListRow from '@/components/page/ListRow.vue'
import LongList from '@/components/page/LongList.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Mirrors: devices that are kept at the same state, whichever of them is changed. */
const home = useHome()
const notices = useNotices()
const route = useRoute()
const router = useRouter()
const chosen = computed(() => home.mirrors.find((m) => m.id === route.params.id))

const reason = (m: Mirror) =>
  m.problems[0]?.message ??
  (m.enabled ? m.members.map((x) => home.device(x.device)?.title ?? 'a removed device').join(' = ') : 'paused')
const mark = (m: Mirror) => {
  if (m.problems.length || m.agree.includes(false)) return 'failed'
  return m.works ? 'on' : 'off'
}
const make = () =>
  notices.attempt(async () => {
    const saved = await ask(api.POST('/api/mirrors', { body: { title: 'New mirror', enabled: true, members: [] } }))
    await home.arrived('mirror', saved.id)
    await router.push(`/mirrors/${saved.id}`)
  })
</script>

<template>
  <EmptyPage v-if="!home.mirrors.length" title="No mirrors yet">
    <p>
      A mirror keeps two or more devices of any makers at the same state, such as a wall switch and a lamp: whichever is
      changed, the others follow.
    </p>
    <Button label="Make a mirror" @click="make" />
  </EmptyPage>
  <ListDetail v-else title="Mirrors" :note="`${home.mirrors.length}`" :chosen="!!route.params.id" back="/mirrors">
    <template #tools>
      <div class="tools"><Button severity="secondary" label="Make a mirror" @click="make" /></div>
    </template>
    <template #list>
      <LongList v-slot="{ item: m }" :items="home.mirrors" :item-key="(row) => row.id">
        <ListRow :to="`/mirrors/${m.id}`" :chosen="m.id === chosen?.id">
          <template #mark><StateMark :mark="mark(m)" /></template>
          {{ m.title }}
          <template #reason>{{ reason(m) }}</template>
        </ListRow>
      </LongList>
    </template>
    <MirrorEditor v-if="chosen" :key="chosen.id" :mirror="chosen" />
    <p v-else-if="route.params.id" class="soft">This mirror was deleted.</p>
    <p v-else class="soft">Choose a mirror to see how its members stand.</p>
  </ListDetail>
</template>

<style scoped>
.tools {
  padding: 0 var(--space-16) var(--space-10);
}
</style>
