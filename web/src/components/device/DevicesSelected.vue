<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { watchDebounced } from '@vueuse/core'
import { computed, reactive, ref, watch } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { Device } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import PageHead from '@/components/page/PageHead.vue'
import RoomPicker from '@/components/inputs/RoomPicker.vue'

/** Several devices renamed, moved, labelled or removed at once. */
const props = defineProps<{ devices: Device[] }>()
const emit = defineEmits<{ done: [] }>()
const home = useHome()
const notices = useNotices()

const titles = reactive(new Map<string, string>())
watch(
  () => props.devices,
  (list) => {
    for (const d of list) if (!titles.has(d.id)) titles.set(d.id, d.title)
  },
  { immediate: true },
)
const room = ref<string | null>('')
const label = ref('')
const wrong = ref('')
const users = computed(() => [...new Set(props.devices.flatMap((d) => d.usedBy.map((u) => u.title)))])

/** What the new names may be confused with, by the device. */
const near = ref(new Map<string, string>())
const asked = (proposing: boolean) =>
  props.devices.map((d) => ({
    id: d.id,
    title: proposing ? undefined : titles.get(d.id)?.trim() || undefined,
    room: room.value || undefined,
  }))
async function compare(proposing: boolean) {
  const names = await ask(api.POST('/api/devices/names', { body: asked(proposing) }))
  if (proposing) for (const n of names) titles.set(n.id, n.title)
  near.value = new Map(names.flatMap((n) => (n.near ? [[n.id, n.near]] : [])))
}
const propose = () => notices.attempt(() => compare(true))
const NAMES_REST = 200
watchDebounced(
  () => props.devices.map((d) => titles.get(d.id)).join('\n'),
  () => void compare(false).catch(() => undefined), // saving says what is wrong
  { debounce: NAMES_REST },
)

type Edit = { id: string; title?: string; room?: string; labels?: string[] }
const edit = (body: Edit[]) => ask(api.PATCH('/api/devices', { body }))

async function save() {
  const edits: Edit[] = []
  const before: Edit[] = []
  for (const d of props.devices) {
    const title = titles.get(d.id)?.trim()
    const labels = d.labels ?? []
    edits.push({
      id: d.id,
      title: title && title !== d.title ? title : undefined,
      room: room.value ? room.value : undefined,
      labels: label.value.trim() && !labels.includes(label.value.trim()) ? [...labels, label.value.trim()] : undefined,
    })
    before.push({ id: d.id, title: d.title, room: d.room ?? '', labels })
  }
  try {
    await edit(edits)
    notices.done(`${edits.length} devices changed.`, () => edit(before))
    emit('done')
  } catch (error) {
    wrong.value = error instanceof Problem ? (error.places[0]?.message ?? error.message) : String(error)
  }
}
const remove = () =>
  notices.attempt(async () => {
    const ids = props.devices.map((d) => d.id)
    for (const id of ids) await ask(api.DELETE('/api/devices/{id}', { params: { path: { id } } }))
    notices.done(`${ids.length} devices removed from the home.`, async () => {
      for (const id of ids) await ask(api.POST('/api/devices/{id}/restore', { params: { path: { id } } }))
    })
    emit('done')
  })
</script>

<template>
  <PageHead :title="`${devices.length} ${devices.length === 1 ? 'device' : 'devices'} chosen`">
    <template #buttons><Button severity="secondary" label="Choose none" @click="emit('done')" /></template>
  </PageHead>
  <form @submit.prevent="save">
    <div class="fields">
      <label><span>Move all to</span><RoomPicker v-model="room" label="Room for all" /></label>
      <label
        ><span>Add a label to all</span><InputText v-model="label" fluid maxlength="40" aria-label="Label for all"
      /></label>
    </div>
    <ul>
      <li v-for="d in devices" :key="d.id">
        <InputText
          :model-value="titles.get(d.id)"
          fluid
          maxlength="120"
          :aria-label="`New name of ${d.title}`"
          @update:model-value="titles.set(d.id, $event ?? '')"
        />
        <span class="soft small">{{ home.roomTitle(d.room) || 'no room yet' }}</span>
        <span v-if="titles.get(d.id) !== d.title" class="soft small was">now {{ d.title }}</span>
        <span v-if="near.has(d.id)" class="near small" role="status">Easily confused with {{ near.get(d.id) }}</span>
      </li>
    </ul>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <p class="row">
      <Button type="submit" label="Change them" />
      <Button type="button" severity="secondary" label="Names by the pattern" @click="propose" />
      <span class="space" />
      <Button type="button" severity="secondary" label="Remove them" @click="remove" />
    </p>
    <p v-if="users.length" class="soft small">
      Used by {{ users.join(', ') }}. What uses them refers to them, not to their names.
    </p>
  </form>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--space-16);
  padding: var(--space-14) 0;
}
label span:first-child {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 160px;
  gap: 0 var(--space-14);
  align-items: center;
  padding: var(--space-4) 0;
  border-top: 1px solid var(--rule);
}
.was,
.near {
  grid-column: 1;
  margin-top: var(--space-2);
}
.near {
  color: var(--ochre);
}
.row {
  display: flex;
  gap: var(--space-8);
  margin-top: var(--space-14);
}
.space {
  flex: 1;
}
.small {
  font-size: var(--type-small);
  margin-top: var(--space-8);
}
.wrong {
  color: var(--ember);
  margin-top: var(--space-8);
}
</style>
