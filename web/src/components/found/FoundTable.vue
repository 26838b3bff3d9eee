<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import type { FoundDevice, Proposal } from '@/api/types'
import RoomPicker from '@/components/inputs/RoomPicker.vue'
import { type FoundOrder, foundOrders, foundText, sortFound } from '@/lib/found'
import { keyOf, useAdding } from '@/stores/adding'
import { useHome } from '@/stores/home'
import { takeIn } from '@/lib/takingIn'
import { useNotices } from '@/stores/notices'
import FoundRow from './FoundRow.vue'

/** What was found and is not in the home, to be named, given rooms and taken in. */
const props = defineProps<{ devices: FoundDevice[] }>()
const home = useHome()
const notices = useNotices()
const adding = useAdding()
const choice = adding.choice
const proposals = ref(new Map<string, Proposal>())
const taking = ref(false)
const wrong = ref('')
const search = ref('')
const by = ref<FoundOrder>('name')

/** How many rows are drawn at first, and with each press more: strange hardware may be a flood. */
const AT_ONCE = 100
/** From how many on they can be searched. */
const MANY = 8
const drawn = ref(AT_ONCE)

// Rows do not change places under the hand as readings come: the order is made when one is asked for, and when something comes or goes.
const order = ref<string[]>([])
watch(
  () => [by.value, ...props.devices.map(keyOf)].join('\n'),
  () => (order.value = sortFound(props.devices, by.value).map(keyOf)),
  { immediate: true },
)
const rows = computed(() => {
  const there = new Map(props.devices.map((d) => [keyOf(d), d]))
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean)
  return order.value
    .flatMap((key) => there.get(key) ?? [])
    .filter((d) => !words.length || words.every((w) => foundText(d).includes(w)))
})
const tellsSignal = computed(() => props.devices.some((d) => d.signal !== undefined))
const ticked = computed(() => props.devices.filter((d) => choice(d).ticked))

const asked = () =>
  ticked.value.map((d) => ({
    connection: d.connection,
    hardware: d.hardware,
    title: choice(d).title.trim(),
    room: choice(d).room || undefined,
  }))

// The hub proposes names by the owner's pattern; what is typed stays.
watchDebounced(
  () => JSON.stringify(asked()),
  async () => {
    if (!ticked.value.length) {
      proposals.value = new Map()
      return
    }
    try {
      const list = await ask(api.POST('/api/found/names', { body: asked() }))
      proposals.value = new Map(list.map((p) => [p.hardware, p]))
      wrong.value = ''
    } catch (error) {
      wrong.value = reasonOf(error)
    }
  },
  { debounce: 120, immediate: true },
)

async function add() {
  taking.value = true
  wrong.value = ''
  try {
    await takeIn(asked())
    for (const d of ticked.value) adding.forget(d)
  } catch (error) {
    wrong.value = reasonOf(error)
  } finally {
    taking.value = false
  }
}

const roomForAll = ref<string | null>('')
watch(roomForAll, (room) => {
  if (room) for (const d of ticked.value) choice(d).room = room
})
const takeRoomHints = () =>
  notices.attempt(async () => {
    for (const d of ticked.value.filter((x) => x.roomHint && !choice(x).room)) {
      let room = home.rooms.find((r) => r.title.toLowerCase() === d.roomHint!.toLowerCase())?.id
      if (!room) {
        room = (await ask(api.POST('/api/rooms', { body: { title: d.roomHint!, order: home.rooms.length } }))).id
        await home.arrived('room', room)
      }
      choice(d).room = room
    }
  })

const tickable = computed(() => rows.value.filter((d) => d.profile))
const allTicked = computed(() => tickable.value.length > 0 && tickable.value.every((d) => choice(d).ticked))
function tickAll(on: boolean) {
  for (const d of tickable.value) choice(d).ticked = on
}

/** Names and rooms are typed straight down: Enter and the arrows go to the next row of the column. */
const table = ref<HTMLTableElement>()
function move(column: string, from: Element, by: number) {
  const cells = [...table.value!.querySelectorAll<HTMLElement>(`[data-column="${column}"]`)]
  const next = cells[cells.findIndex((c) => c.contains(from)) + by]
  next?.querySelector<HTMLElement>('input:not([disabled]), [role="combobox"]')?.focus()
}
function onKey(event: KeyboardEvent) {
  const field = event.target as HTMLElement
  if (!field.closest('[data-column="name"]')) return
  const step = { Enter: 1, ArrowDown: 1, ArrowUp: -1 }[event.key]
  if (!step) return
  event.preventDefault()
  move('name', field, step)
}
const nextRoom = () => document.activeElement && move('room', document.activeElement, 1)
</script>

<template>
  <div>
    <div class="tools">
      <InputText
        v-if="devices.length > MANY"
        v-model="search"
        size="small"
        placeholder="Search by maker, reading, place"
        aria-label="Search found devices"
        class="search"
      />
      <Select
        v-model="by"
        size="small"
        :options="[...foundOrders]"
        option-label="title"
        option-value="value"
        aria-label="Sort found devices"
      />
      <span class="soft small typing">Names and rooms can be typed straight down: Enter goes to the next row.</span>
    </div>
    <table ref="table" @keydown="onKey">
      <thead>
        <tr>
          <th>
            <Checkbox :model-value="allTicked" binary aria-label="Tick all" @update:model-value="tickAll($event)" />
          </th>
          <th>Found</th>
          <th>Reads now</th>
          <th class="figure">{{ tellsSignal ? 'Signal' : '' }}</th>
          <th class="figure">Heard</th>
          <th>Name</th>
          <th>Room</th>
        </tr>
      </thead>
      <tbody>
        <FoundRow
          v-for="d in rows.slice(0, drawn)"
          :key="keyOf(d)"
          :device="d"
          :proposal="choice(d).ticked ? proposals.get(d.hardware) : undefined"
          @next="nextRoom"
        />
      </tbody>
    </table>
    <p v-if="!rows.length" class="soft small">None of {{ devices.length }} found devices matches “{{ search }}”.</p>
    <p v-if="rows.length > drawn" class="soft small">
      {{ drawn }} of {{ rows.length }} are shown.
      <button class="plain link" @click="drawn += AT_ONCE">Show more</button>
    </p>
    <div class="go">
      <Button
        :label="ticked.length ? `Take ${ticked.length} into the home` : 'Take into the home'"
        :disabled="!ticked.length || taking"
        @click="add"
      />
      <template v-if="ticked.length">
        <span class="pick"><RoomPicker v-model="roomForAll" size="small" label="Room for all ticked" /></span>
        <span class="soft small">for all {{ ticked.length }} ticked</span>
        <Button
          v-if="ticked.some((d) => d.roomHint)"
          size="small"
          severity="secondary"
          label="Use the rooms that their bridge names"
          @click="takeRoomHints"
        />
      </template>
      <span v-else class="soft small"
        >Names left empty follow the pattern <code class="mono">{{ home.house?.namePattern }}</code> of
        <RouterLink class="link" to="/house">the house</RouterLink>.</span
      >
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    </div>
  </div>
</template>

<style scoped>
.tools,
.go {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8) var(--space-12);
  align-items: center;
}
.tools {
  margin-block: var(--space-8);
}
.search {
  width: 260px;
}
/* To the edge of the page, past its padding. */
.go {
  position: sticky;
  bottom: calc(-1 * var(--space-60));
  z-index: 2;
  background: var(--paper);
  border-top: 1px solid var(--rule);
  padding-block: var(--space-10);
}
.pick {
  width: 180px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  position: sticky;
  top: calc(-1 * var(--space-20));
  z-index: 2;
  background: var(--paper);
  text-align: left;
  font-size: var(--type-small);
  color: var(--ink-soft);
  font-weight: 600;
  padding: var(--space-6) var(--space-10) var(--space-6) 0;
}
th:first-child {
  padding-left: var(--space-6);
}
.figure {
  text-align: right;
}
.small {
  font-size: var(--type-small);
}
.wrong {
  color: var(--ember);
}
@media (max-width: 1000px) {
  table,
  tbody {
    display: block;
  }
  thead,
  .typing {
    display: none;
  }
}
</style>
