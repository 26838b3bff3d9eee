<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import Textarea from 'primevue/textarea'
import { ref } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { Device } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

const props = defineProps<{ device: Device }>()
const emit = defineEmits<{ done: [] }>()
const home = useHome()
const notices = useNotices()

const title = ref(props.device.title)
const room = ref(props.device.room ?? '')
const note = ref(props.device.note ?? '')
const wrong = ref('')

const put = (body: { title: string; room?: string; note?: string }, revision: number) =>
  ask(api.PUT('/api/devices/{id}', { params: { path: { id: props.device.id }, query: { revision } }, body }))

async function save() {
  const before = { title: props.device.title, room: props.device.room, note: props.device.note }
  try {
    await put({ title: title.value.trim(), room: room.value || undefined, note: note.value }, props.device.revision)
    notices.done(`${title.value} saved.`, () => put(before, 0))
    emit('done')
  } catch (error) {
    wrong.value = error instanceof Problem ? (error.places[0]?.message ?? error.message) : String(error)
  }
}
</script>

<template>
  <form class="edit" @submit.prevent="save">
    <label><span>Name</span><InputText v-model="title" fluid :invalid="!!wrong" autofocus /></label>
    <label>
      <span>Room</span>
      <Select
        v-model="room"
        :options="home.rooms"
        placeholder="no room yet"
        show-clear
        option-label="title"
        option-value="id"
        aria-label="Room"
        fluid
      />
    </label>
    <label class="wide"
      ><span>Note</span
      ><Textarea v-model="note" rows="2" fluid placeholder="Where it sits, when its battery was put in …"
    /></label>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div class="wide"><Button type="submit" label="Save" :disabled="!title.trim()" /></div>
  </form>
</template>

<style scoped>
.edit {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px 18px;
  padding: 14px 0;
  border-bottom: 1px solid var(--rule);
}
label span:first-child {
  font-size: 13.5px;
  color: var(--ink-soft);
}
.wide {
  grid-column: 1 / 3;
}
.wrong {
  grid-column: 1 / 3;
  color: var(--ember);
}
</style>
