<script setup lang="ts">
import { computed, onMounted } from 'vue'
import { RouterLink } from 'vue-router'
import BoardView from '@/components/dashboard/BoardView.vue'
import ErrorNote from '@/components/page/ErrorNote.vue'
import PlainPage from '@/components/page/PlainPage.vue'
import ArrangeHand from '@/components/today/ArrangeHand.vue'
import RoomRow from '@/components/today/RoomRow.vue'
import type { Pick } from '@/api/types'
import { useDrafted } from '@/lib/drafted'
import { houseNow } from '@/lib/houseNow'
import { useReading } from '@/lib/reading'
import { useFavorites } from '@/stores/favorites'
import { useHome } from '@/stores/home'

/** What somebody uses most, first: what they keep at hand, the rooms, and keys for the rest. */
const home = useHome()
const favorites = useFavorites()
const { failed, again } = useReading(favorites.read)
onMounted(again)

const own = useDrafted(() => ({ picked: favorites.list.filter((p) => p.kind !== 'room') }))
const rooms = computed(() => {
  const all = houseNow(home.rooms, home.devices).floors.flatMap((f) => f.rooms)
  const rank = (id: string) => {
    const at = favorites.list.findIndex((p) => p.kind === 'room' && p.id === id)
    return at < 0 ? Infinity : at
  }
  return all.filter((r) => r.id).sort((a, b) => rank(a.id) - rank(b.id) || 0)
})
/** Keys for what is not at hand already: scenes and sequences, and rules that only a hand starts. */
const MOST = 24
const others = computed<Pick[]>(() =>
  [
    ...home.scenes.map((s) => ({ kind: 'scene' as const, id: s.id })),
    ...home.sequences.map((s) => ({ kind: 'sequence' as const, id: s.id })),
    ...home.rules
      .filter((r) => r.enabled && !r.whenever && !r.when?.length)
      .map((r) => ({ kind: 'rule' as const, id: r.id })),
  ].filter((p) => !favorites.has(p)),
)
const keys = useDrafted(() => ({ picked: others.value.slice(0, MOST) }))
</script>

<template>
  <PlainPage title="At hand">
    <template #lead>What you use most, on every device on which you are.</template>
    <section aria-label="Kept at hand">
      <ErrorNote v-if="failed" :reason="failed" @again="again" />
      <ErrorNote v-else-if="own.failed.value" :reason="own.failed.value" @again="own.again" />
      <BoardView v-if="own.board.value" :dashboard="own.board.value" class="laid" />
      <p v-else-if="!failed && !favorites.list.length" class="soft">
        Nothing is kept at hand yet. Open a lamp, a scene, a room or a dashboard, and choose the ribbon beside its name.
      </p>
      <ArrangeHand v-if="favorites.list.length" />
    </section>
    <section v-if="rooms.length" aria-labelledby="hand-rooms">
      <h2 id="hand-rooms">Rooms</h2>
      <ul class="rooms">
        <RoomRow v-for="r in rooms" :key="r.id" :room="r" />
      </ul>
    </section>
    <section v-if="keys.board.value" aria-labelledby="hand-keys">
      <h2 id="hand-keys">Keys</h2>
      <BoardView :dashboard="keys.board.value" class="laid" />
      <RouterLink v-if="others.length > MOST" class="link" to="/scenes">All scenes and sequences</RouterLink>
    </section>
  </PlainPage>
</template>

<style scoped>
section + section {
  margin-top: var(--space-26);
}
h2 {
  margin-bottom: var(--space-6);
}
.laid {
  min-height: 0;
  border-top: 1px solid var(--rule);
  border-left: 1px solid var(--rule);
}
.rooms {
  border-top: 1px solid var(--rule);
  margin: 0;
  padding: 0;
  list-style: none;
  max-width: 760px;
}
</style>
