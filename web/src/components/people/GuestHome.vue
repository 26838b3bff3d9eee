<script setup lang="ts">
import { computed, watchEffect } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import EmptyPage from '@/components/page/EmptyPage.vue'
import PanelView from '@/views/PanelView.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import { useSession } from '@/stores/session'

/** What a guest has of the home: the dashboards that they were given. */
const home = useHome()
const session = useSession()
const notices = useNotices()
const route = useRoute()
const router = useRouter()

const boards = computed(() =>
  (session.view?.dashboards ?? []).flatMap((id) => home.dashboards.find((d) => d.id === id) ?? []),
)
const here = computed(() => boards.value.find((d) => route.path === `/panel/${d.id}`))
watchEffect(() => {
  if (home.loaded && !here.value && boards.value[0]) void router.replace(`/panel/${boards.value[0].id}`)
})
</script>

<template>
  <div class="guest">
    <header>
      <nav aria-label="Dashboards">
        <RouterLink v-for="d in boards" :key="d.id" class="board" :to="`/panel/${d.id}`">{{ d.title }}</RouterLink>
      </nav>
      <span class="soft who">{{ session.view?.home }} · {{ session.view?.eyes ?? session.view?.title }}</span>
      <button v-if="!session.view?.looksAs" class="plain link" @click="notices.attempt(session.signOut)">
        Sign out
      </button>
    </header>
    <PanelView v-if="here" class="panel" />
    <EmptyPage v-else-if="home.loaded" title="Nothing here for you yet">
      <p>Whoever let you in can give you a dashboard.</p>
    </EmptyPage>
    <p v-else class="soft waiting" role="status">Asking the hub …</p>
  </div>
</template>

<style scoped>
.guest {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  height: 100%;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-20);
  align-items: center;
  padding: 0 var(--space-20);
  min-height: var(--touch);
  border-bottom: 1px solid var(--rule);
}
nav {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-20);
  margin-right: auto;
}
.board {
  display: inline-flex;
  align-items: center;
  min-height: var(--touch);
  color: var(--ink-soft);
  text-decoration: none;
}
.board.router-link-active {
  color: var(--ink);
  font-weight: 650;
  box-shadow: inset 0 -2px var(--verdigris);
}
.panel {
  min-height: 0;
  overflow-y: auto;
}
.waiting {
  padding: var(--space-44);
}
</style>
