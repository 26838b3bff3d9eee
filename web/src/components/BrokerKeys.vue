<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { BrokerClient } from '@/api/types'
import { useNotices } from '@/stores/notices'
import ClientKeys from './ClientKeys.vue'

/** Who may join the hub's own broker: each with its own key and its own topics. */
const notices = useNotices()
const clients = ref<BrokerClient[]>([])
const topics = ref('')
const read = () =>
  notices.attempt(async () => {
    clients.value = await ask(api.GET('/api/broker/clients'))
  })
onMounted(read)

async function add(name: string) {
  const filters = topics.value
    .split(/[\s,]+/)
    .map((f) => f.replaceAll('{name}', name))
    .filter(Boolean)
  const own = filters.length ? filters : [`${name}/#`]
  const { key } = await ask(api.POST('/api/broker/clients', { body: { name, publish: own, subscribe: own } }))
  await read()
  return key
}
async function remove(name: string) {
  await ask(api.DELETE('/api/broker/clients/{name}', { params: { path: { name } } }))
  await read()
}
</script>

<template>
  <ClientKeys
    title="Who may join this broker"
    help="Each client joins with its name and its key, and says and hears its own topics only."
    :names="clients.map((c) => c.name)"
    :add="add"
    :remove="remove"
  >
    <label class="small"
      >Topics
      <input v-model="topics" class="mono topics" placeholder="{name}/#" aria-label="Topics of the new client" />
    </label>
  </ClientKeys>
</template>

<style scoped>
.small {
  font-size: 13px;
}
.topics {
  background: var(--sheet);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  padding: 4px 8px;
  margin-left: 6px;
  width: 260px;
}
</style>
