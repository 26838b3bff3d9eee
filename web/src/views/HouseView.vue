<script setup lang="ts">
import Button from 'primevue/button'
import InputNumber from 'primevue/inputnumber'
import InputText from 'primevue/inputtext'
import { reactive, ref, watch } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { Room } from '@/api/types'
import CommitInput from '@/components/CommitInput.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

const home = useHome()
const notices = useNotices()

const form = reactive({ title: '', latitude: 0, longitude: 0, zone: '', namePattern: '' })
const wrong = ref<Problem>()
const newRoom = ref('')
const newFloor = ref('')

watch(
  () => home.house?.revision,
  () => {
    const h = home.house
    if (h)
      Object.assign(form, {
        title: h.title,
        latitude: h.latitude,
        longitude: h.longitude,
        zone: h.zone,
        namePattern: h.namePattern,
      })
  },
  { immediate: true },
)

async function save() {
  wrong.value = undefined
  try {
    await ask(api.PUT('/api/home', { params: { query: { revision: home.house?.revision ?? 0 } }, body: { ...form } }))
    notices.done('The house is saved.')
  } catch (error) {
    if (error instanceof Problem) wrong.value = error
    else throw error
  }
}

const add = () =>
  notices.attempt(async () => {
    await ask(
      api.POST('/api/rooms', {
        body: { title: newRoom.value.trim(), floor: newFloor.value.trim() || undefined, order: home.rooms.length },
      }),
    )
    newRoom.value = ''
  })
const change = (room: Room, part: Partial<Room>) =>
  notices.attempt(async () => {
    const { title, floor, order } = { ...room, ...part }
    await ask(
      api.PUT('/api/rooms/{id}', {
        params: { path: { id: room.id }, query: { revision: 0 } },
        body: { title, floor, order },
      }),
    )
  })
const move = (i: number, by: number) =>
  notices.attempt(async () => {
    const list = [...home.rooms]
    const [taken] = list.splice(i, 1)
    list.splice(i + by, 0, taken!)
    for (const [order, room] of list.entries()) if (room.order !== order) await change(room, { order })
  })
const inRoom = (id: string) => home.devices.filter((d) => d.room === id).length
const remove = (room: Room) =>
  notices.attempt(async () => {
    await ask(api.DELETE('/api/rooms/{id}', { params: { path: { id: room.id } } }))
    notices.done(`${room.title} removed.`, () =>
      ask(api.POST('/api/rooms/{id}/restore', { params: { path: { id: room.id } } })),
    )
  })
</script>

<template>
  <div class="page">
    <h1>House</h1>
    <form class="form" @submit.prevent="save">
      <label><span>Name</span><InputText v-model="form.title" fluid :invalid="!!wrong?.at('title')" /></label>
      <label><span>Time zone</span><InputText v-model="form.zone" fluid :invalid="!!wrong?.at('zone')" /></label>
      <label
        ><span>Latitude, north positive</span
        ><InputNumber v-model="form.latitude" fluid :max-fraction-digits="4" :min="-90" :max="90"
      /></label>
      <label
        ><span>Longitude, east positive</span
        ><InputNumber v-model="form.longitude" fluid :max-fraction-digits="4" :min="-180" :max="180"
      /></label>
      <label class="wide">
        <span>Pattern for names</span>
        <InputText v-model="form.namePattern" fluid class="mono" :invalid="!!wrong?.at('namePattern')" />
        <span class="soft help"
          >From {room}, {what}, {maker} and {number}; what you type yourself always stays. The place gives sunrise and
          sunset.</span
        >
      </label>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong.message }}</p>
      <div class="wide"><Button type="submit" label="Save" /></div>
    </form>

    <h2>Rooms</h2>
    <ul class="rooms">
      <li v-for="(r, i) in home.rooms" :key="r.id">
        <CommitInput
          :value="r.title"
          :aria-label="`Name of ${r.title}`"
          maxlength="60"
          @commit="change(r, { title: $event })"
        />
        <CommitInput
          :value="r.floor"
          placeholder="floor"
          :aria-label="`Floor of ${r.title}`"
          maxlength="60"
          @commit="change(r, { floor: $event || undefined })"
        />
        <span class="soft mono">{{ inRoom(r.id) }} devices</span>
        <span class="moves">
          <button v-if="i" class="plain soft" :aria-label="`Move ${r.title} up`" @click="move(i, -1)">↑</button>
          <button
            v-if="i < home.rooms.length - 1"
            class="plain soft"
            :aria-label="`Move ${r.title} down`"
            @click="move(i, 1)"
          >
            ↓
          </button>
        </span>
        <button v-if="!inRoom(r.id)" class="plain link" @click="remove(r)">Remove</button>
        <span v-else class="soft" title="Devices are in it">in use</span>
      </li>
    </ul>
    <form class="add" @submit.prevent="add">
      <InputText v-model="newRoom" placeholder="New room" aria-label="New room" maxlength="60" />
      <InputText v-model="newFloor" placeholder="Floor" aria-label="Floor of the new room" maxlength="60" />
      <Button type="submit" severity="secondary" label="Add room" :disabled="!newRoom.trim()" />
    </form>
    <p class="soft version">
      Amvek {{ home.about?.version }}. The interface for programs is described at
      <a class="link" href="/api/openapi.json">/api/openapi.json</a>.
    </p>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: 20px 26px 60px;
}
.page > * {
  max-width: 720px;
}
h1 {
  border-bottom: 1px solid var(--rule);
  padding-bottom: 14px;
}
.form {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px 20px;
  padding: 18px 0 26px;
}
label > span:first-child {
  font-size: 13.5px;
  color: var(--ink-soft);
}
.wide {
  grid-column: 1 / 3;
}
.help {
  font-size: 13.5px;
}
.wrong {
  grid-column: 1 / 3;
  color: var(--ember);
}
.rooms {
  margin-top: 8px;
}
.rooms li {
  display: grid;
  grid-template-columns: 1fr 150px 90px 60px 70px;
  gap: 14px;
  align-items: center;
  border-top: 1px solid var(--rule);
  min-height: var(--touch);
}
.rooms :deep(input),
.rooms input {
  background: transparent;
  border: 0;
  border-bottom: 1px solid transparent;
  padding: 4px 0;
}
.rooms input:hover,
.rooms input:focus {
  border-bottom-color: var(--edge);
}
.rooms .mono {
  font-size: 13px;
}
.moves {
  display: flex;
  gap: 8px;
}
.add {
  display: flex;
  gap: 10px;
  padding: 14px 0;
  border-top: 1px solid var(--rule);
}
.version {
  margin-top: 30px;
  font-size: 13.5px;
}
</style>
