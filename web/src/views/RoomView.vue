<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import BoardView from '@/components/dashboard/BoardView.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import PageHead from '@/components/page/PageHead.vue'
import { useDrafted } from '@/lib/drafted'
import { useHome } from '@/stores/home'

/** A room with all that is in it, as instruments: laid out by the hub, without having been arranged. */
const home = useHome()
const route = useRoute()
const id = computed(() => String(route.params.id))
const room = computed(() => home.rooms.find((r) => r.id === id.value))
const drafted = useDrafted(() => (room.value ? { room: id.value } : undefined))
</script>

<template>
  <EmptyPage v-if="!room" title="No such room"><p>It may have been removed.</p></EmptyPage>
  <div v-else class="page">
    <PageHead :title="room.title" :pick="{ kind: 'room', id }">
      {{ room.floor }}
      <template #buttons>
        <RouterLink class="link" :to="{ path: '/devices', query: { search: room.title } }">Its devices</RouterLink>
      </template>
    </PageHead>
    <BoardView v-if="drafted.board.value" :key="id" :dashboard="drafted.board.value" class="laid" />
    <p v-else-if="drafted.failed.value" class="soft none">{{ drafted.failed.value }}</p>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: var(--space-14) var(--space-26) var(--space-44);
}
.laid {
  min-height: 0;
}
.none {
  padding: var(--space-20) 0;
}
@media (max-width: 720px) {
  .page {
    padding-inline: var(--space-14);
  }
}
</style>
