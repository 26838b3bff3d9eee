<script setup lang="ts">
import { computed, defineAsyncComponent, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import BoardNav from '@/components/dashboard/BoardNav.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import { seenByMe } from '@/lib/seenBy'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'
import PanelView from '@/views/PanelView.vue'

const BoardEditor = defineAsyncComponent(() => import('@/components/dashboard/arrange/BoardEditor.vue'))
const home = useHome()
const session = useSession()
const route = useRoute()
const router = useRouter()

const chosen = computed(() => home.dashboards.find((d) => d.id === route.params.id))

watch(
  () => [route.params.id, home.dashboards.length],
  () => {
    const first = home.dashboards.find((d) => seenByMe(d.seenBy, session))
    if (route.path.startsWith('/dashboards') && !route.params.id && first)
      void router.replace(`/dashboards/${first.id}`)
  },
  { immediate: true },
)
</script>

<template>
  <div class="page">
    <BoardNav />
    <EmptyPage v-if="!home.dashboards.length" title="No dashboards yet">
      <p>
        A dashboard puts lamps, readings, scenes and keys in front of the household, on a phone, a tablet or the wall.
      </p>
      <p v-if="session.setsUp">Choose <b>New dashboard</b>: an empty one, or one drafted from what is in a room.</p>
    </EmptyPage>
    <PanelView v-else-if="chosen && !session.setsUp" />
    <BoardEditor v-else-if="chosen" :key="chosen.id" :dashboard="chosen" />
    <p v-else-if="route.params.id" class="soft none">This dashboard was deleted.</p>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: var(--space-14) var(--space-26) var(--space-44);
}
.none {
  padding: var(--space-20) 0;
}
</style>
