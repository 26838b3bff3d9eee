<script setup lang="ts">
import MultiSelect from 'primevue/multiselect'
import Select from 'primevue/select'
import { onMounted, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { Client } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import ClientKeys from './ClientKeys.vue'

/** Programs that may use the home, each with its key and what that opens. */
const home = useHome()
const notices = useNotices()
const clients = ref<Client[]>([])
const read = () =>
  notices.attempt(async () => {
    clients.value = await ask(api.GET('/api/clients'))
  })
onMounted(read)

type Scope = NonNullable<Client['scope']>
const scopes: { value: Scope; title: string }[] = [
  { value: 'read', title: 'may read' },
  { value: 'operate', title: 'may operate' },
  { value: 'setUp', title: 'may set up' },
]
const scope = ref<Scope>('operate')
const rooms = ref<string[]>([])

async function add(name: string) {
  const may = { scope: scope.value, rooms: scope.value === 'setUp' ? undefined : rooms.value }
  const { key } = await ask(api.POST('/api/clients', { body: { name, ...may } }))
  rooms.value = []
  await read()
  return key
}
async function remove(name: string) {
  await ask(api.DELETE('/api/clients/{name}', { params: { path: { name } } }))
  await read()
}
function may(name: string): string {
  const of = clients.value.find((c) => c.name === name)
  const where = of?.rooms?.map((r) => home.roomTitle(r) || 'a room that was removed').join(', ')
  return `${scopes.find((s) => s.value === of?.scope)?.title ?? ''}, ${where || 'all of the home'}`
}
</script>

<template>
  <ClientKeys
    title="Programs that use the home"
    help="A program shows its key as a bearer token. Every device is a W3C Thing, listed at /things; all else is under /api."
    :names="clients.map((c) => c.name)"
    :add="add"
    :remove="remove"
  >
    <template #stands="{ client }"
      ><span class="soft small">{{ may(client) }}</span></template
    >
    <template #may>
      <Select
        v-model="scope"
        size="small"
        :options="scopes"
        option-value="value"
        option-label="title"
        aria-label="What the new program may"
      />
      <MultiSelect
        v-if="scope !== 'setUp'"
        v-model="rooms"
        size="small"
        :options="home.rooms"
        option-value="id"
        option-label="title"
        display="chip"
        placeholder="all of the home"
        aria-label="Rooms that the new program reaches"
      />
    </template>
  </ClientKeys>
</template>

<style scoped>
.small {
  font-size: var(--type-small);
}
</style>
