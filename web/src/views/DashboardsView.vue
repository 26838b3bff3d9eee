<script setup lang="ts">
import Button from 'primevue/button'
import { computed, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import EmptyPage from '@/components/page/EmptyPage.vue'
import PanelView from '@/views/PanelView.vue'
import BoardEditor from '@/components/dashboard/BoardEditor.vue'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'
import { useNotices } from '@/stores/notices'

const home = useHome()
const session = useSession()
const notices = useNotices()
const route = useRoute()
const router = useRouter()

const chosen = computed(() => home.dashboards.find((d) => d.id === route.params.id))

watch(
  () => [route.params.id, home.dashboards.length],
  () => {
    const first = home.dashboards[0]
    if (route.path.startsWith('/dashboards') && !route.params.id && first)
      void router.replace(`/dashboards/${first.id}`)
  },
  { immediate: true },
)

const make = () =>
  notices.attempt(async () => {
    const saved = await ask(api.POST('/api/dashboards', { body: { title: 'New dashboard', controls: [] } }))
    await home.arrived('dashboard', saved.id)
    await router.push(`/dashboards/${saved.id}`)
  })
</script>

<template>
  <EmptyPage v-if="!home.dashboards.length" title="No dashboards yet">
    <p>A dashboard puts lamps, values, scenes and rules in front of the household, on a phone, a tablet or the wall.</p>
    <Button v-if="session.setsUp" label="Make a dashboard" @click="make" />
  </EmptyPage>
  <div v-else class="page">
    <nav class="boards" aria-label="Dashboards">
      <RouterLink v-for="d in home.dashboards" :key="d.id" :to="`/dashboards/${d.id}`" class="board">{{
        d.title
      }}</RouterLink>
      <button v-if="session.setsUp" class="plain link" @click="make">New dashboard</button>
    </nav>
    <PanelView v-if="chosen && !session.setsUp" />
    <BoardEditor v-else-if="chosen" :key="chosen.id" :dashboard="chosen" />
    <p v-else class="soft none">This dashboard was deleted.</p>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: var(--space-14) var(--space-26) var(--space-44);
}
.boards {
  display: flex;
  gap: var(--space-20);
  border-bottom: 1px solid var(--rule);
  font-size: var(--type-small);
  align-items: baseline;
}
.board {
  padding: var(--space-6) 0 var(--space-8);
  color: var(--ink-soft);
  text-decoration: none;
  border-bottom: 2px solid transparent;
}
.router-link-active {
  color: var(--ink);
  font-weight: 650;
  border-bottom-color: var(--verdigris);
}
.none {
  padding: var(--space-20) 0;
}
</style>
