<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { VueDraggable } from 'vue-draggable-plus'
import { api, ask } from '@/api/client'
import type { Dashboard, DashboardDocument } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { documentOf } from '@/lib/documents'
import { floorsOf } from '@/lib/floors'
import { seenByMe } from '@/lib/seenBy'
import { useEdits } from '@/stores/edits'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import { useSession } from '@/stores/session'
import BoardIcon from './BoardIcon.vue'

/** The dashboards in the owner's order, changed by dragging or by Alt and the arrow keys, and new ones. */
const home = useHome()
const session = useSession()
const notices = useNotices()
const edits = useEdits()
const router = useRouter()

const boards = ref<Dashboard[]>([])
watch(
  () => home.dashboards,
  (all) => (boards.value = all.filter((d) => seenByMe(d.seenBy, session))),
  { immediate: true },
)

/** Gives each dashboard its number in the order in which they stand now. */
async function order(ids: string[]) {
  for (const [at, id] of ids.entries()) {
    const board = home.dashboards.find((d) => d.id === id)
    if (!board || board.order === at + 1) continue
    const before = documentOf('dashboard', board)
    await edits.now('dashboard', id, before, { ...before, order: at + 1 })
  }
}
const save = () =>
  notices.attempt(async () => {
    const before = home.dashboards.map((d) => d.id)
    const after = boards.value.map((d) => d.id)
    if (before.join() === after.join()) return
    await order(after)
    notices.done('The dashboards are in their new order.', () => order(before))
  })
async function step(id: string, by: number) {
  const from = boards.value.findIndex((d) => d.id === id)
  const to = from + by
  if (to < 0 || to >= boards.value.length) return
  const next = [...boards.value]
  next.splice(to, 0, ...next.splice(from, 1))
  boards.value = next
  await save()
  await nextTick()
  document.getElementById(`board-${id}`)?.focus()
}

const drafts = computed(() => [
  { value: 'empty', title: 'an empty one' },
  { value: 'house', title: `all of ${home.house?.title ?? 'the house'}`, group: 'Draft one for' },
  ...floorsOf(home.rooms)
    .filter((f) => f.title)
    .map((f) => ({ value: `floor ${f.title}`, title: f.title, group: 'Draft one for a floor' })),
  ...home.rooms.map((r) => ({ value: `room ${r.id}`, title: r.title, group: 'Draft one for a room' })),
])
const make = (what: string) =>
  notices.attempt(async () => {
    const [kind, id] = [what.split(' ', 1)[0], what.slice(what.indexOf(' ') + 1)]
    let body: DashboardDocument = { title: 'New dashboard', grid: 24, margin: true, controls: [] }
    if (kind !== 'empty')
      body = (
        await ask(
          api.POST('/api/dashboards/draft', {
            body: kind === 'room' ? { room: id } : kind === 'floor' ? { floor: id } : {},
          }),
        )
      ).dashboard
    const last = Math.max(0, ...home.dashboards.map((d) => d.order ?? 0))
    const saved = await ask(api.POST('/api/dashboards', { body: { ...body, order: last ? last + 1 : undefined } }))
    await home.arrived('dashboard', saved.id)
    await router.push(`/dashboards/${saved.id}`)
  })
</script>

<template>
  <nav class="boards" aria-label="Dashboards">
    <VueDraggable v-model="boards" class="list" :disabled="!session.setsUp" :animation="0" @end="save">
      <RouterLink
        v-for="d in boards"
        :id="`board-${d.id}`"
        :key="d.id"
        :to="`/dashboards/${d.id}`"
        class="board"
        :aria-keyshortcuts="session.setsUp ? 'Alt+ArrowLeft Alt+ArrowRight' : undefined"
        @keydown.alt.left.prevent="session.setsUp && step(d.id, -1)"
        @keydown.alt.right.prevent="session.setsUp && step(d.id, 1)"
        ><BoardIcon v-if="d.icon" :name="d.icon" :size="18" /> {{ d.title }}</RouterLink
      >
    </VueDraggable>
    <TokenPicker
      v-if="session.setsUp"
      :model-value="undefined"
      :choices="drafts"
      label="New dashboard"
      empty="New dashboard"
      verb
      @update:model-value="make"
    />
  </nav>
</template>

<style scoped>
.boards {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-20);
  border-bottom: 1px solid var(--rule);
  font-size: var(--type-small);
  align-items: baseline;
}
.list {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-20);
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
</style>
