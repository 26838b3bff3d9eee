<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { api, ask } from '@/api/client'
import type { Room } from '@/api/types'
import { arrangement, type Floor, floorsOf, moveRoom } from '@/lib/floors'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import CommitInput from '@/components/inputs/CommitInput.vue'

/** The floors with their rooms, put into order by dragging or by the arrow keys. */
const home = useHome()
const notices = useNotices()

const floors = ref<Floor[]>([])
watch(
  () => home.rooms,
  (rooms) => (floors.value = floorsOf(rooms)),
  { immediate: true },
)

const arrange = (body: { id: string; floor?: string }[]) => ask(api.POST('/api/rooms/arrange', { body }))
const save = () =>
  notices.attempt(async () => {
    const before = arrangement(floorsOf(home.rooms))
    const after = arrangement(floors.value)
    if (JSON.stringify(before) === JSON.stringify(after)) return
    await arrange(after)
    notices.done('The rooms are in their new order.', () => arrange(before))
  })
async function step(room: Room, by: -1 | 1) {
  floors.value = moveRoom(floors.value, room.id, by)
  await save()
  await nextTick()
  document.getElementById(`grip-${room.id}`)?.focus()
}

const { change, remove } = useChanges('room')
const rename = (room: Room, title: string) => change(room, { title }, `${room.title} is called ${title} now.`)
const renameFloor = (floor: Floor, title: string) =>
  notices.attempt(async () => {
    const before = arrangement(floorsOf(home.rooms))
    await arrange(before.map((r) => ((r.floor ?? '') === floor.title ? { ...r, floor: title || undefined } : r)))
    notices.done(`${floor.title || 'No floor'} is now ${title || 'no floor'}.`, () => arrange(before))
  })
const inRoom = (id: string) => home.devices.filter((d) => d.room === id).length
</script>

<template>
  <section v-for="floor in floors" :key="floor.title" class="floor">
    <CommitInput
      class="title"
      :value="floor.title"
      placeholder="no floor"
      :aria-label="floor.title ? `Name of the floor ${floor.title}` : 'Floor of these rooms'"
      maxlength="60"
      @commit="renameFloor(floor, $event.trim())"
    />
    <VueDraggable
      v-model="floor.rooms"
      tag="ul"
      class="rooms"
      group="rooms"
      handle=".grip"
      :animation="120"
      ghost-class="ghost"
      @end="save"
    >
      <li v-for="r in floor.rooms" :key="r.id">
        <button
          :id="`grip-${r.id}`"
          class="plain grip"
          :aria-label="`Move ${r.title}: drag it, or press the up and down keys`"
          title="Drag, or press ↑ and ↓"
          @keydown.up.prevent="step(r, -1)"
          @keydown.down.prevent="step(r, 1)"
        >
          <svg viewBox="0 0 12 16" aria-hidden="true">
            <path d="M2 4h8M2 8h8M2 12h8" />
          </svg>
        </button>
        <CommitInput :value="r.title" :aria-label="`Name of ${r.title}`" maxlength="60" @commit="rename(r, $event)" />
        <RouterLink class="link soft" :to="{ path: '/devices', query: { search: r.title } }"
          ><span class="mono">{{ inRoom(r.id) }}</span> {{ inRoom(r.id) === 1 ? 'device' : 'devices' }}</RouterLink
        >
        <button v-if="!inRoom(r.id)" class="plain link" @click="remove(r, `${r.title} removed.`)">Remove</button>
        <span v-else class="soft small">cannot be removed</span>
        <EarlierVersions :id="r.id" class="versions" kind="room" :revision="r.revision" />
      </li>
    </VueDraggable>
  </section>
</template>

<style scoped>
.floor {
  margin-bottom: var(--space-20);
}
.title {
  font-weight: 650;
  font-size: var(--type-head);
  margin-bottom: var(--space-4);
}
.rooms {
  min-height: 12px;
}
li {
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr) 100px 130px;
  gap: var(--space-10);
  align-items: center;
  padding: var(--space-4) 0;
  border-top: 1px solid var(--rule);
  background: var(--paper);
}
.grip {
  width: 30px;
  height: 30px;
  cursor: grab;
  display: grid;
  place-items: center;
}
.grip svg {
  width: 12px;
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1.6;
}
.grip:hover svg,
.grip:focus-visible svg {
  stroke: var(--verdigris);
}
.versions {
  grid-column: 2 / -1;
  margin-top: 0;
}
.ghost {
  background: var(--verdigris-wash);
}
</style>
