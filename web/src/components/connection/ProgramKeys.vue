<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useNotices } from '@/stores/notices'
import ClientKeys from './ClientKeys.vue'

/** Programs that may use the home's devices as W3C Things. */
const notices = useNotices()
const names = ref<string[]>([])
const read = () =>
  notices.attempt(async () => {
    names.value = await ask(api.GET('/api/clients'))
  })
onMounted(read)

async function add(name: string) {
  const { key } = await ask(api.POST('/api/clients', { body: { name } }))
  await read()
  return key
}
async function remove(name: string) {
  await ask(api.DELETE('/api/clients/{name}', { params: { path: { name } } }))
  await read()
}
</script>

<template>
  <ClientKeys
    title="Programs that use the devices"
    help="Every device is a W3C Thing, listed at /things. A program reads, writes and observes them with its own key, as a bearer token."
    :names="names"
    :add="add"
    :remove="remove"
  />
</template>
