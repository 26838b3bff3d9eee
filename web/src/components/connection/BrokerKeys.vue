<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, onMounted, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { BrokerClient } from '@/api/types'
import { useNotices } from '@/stores/notices'
import ClientKeys from './ClientKeys.vue'

/** Who may join the hub's own broker: each with its own key and its own topics. */
const notices = useNotices()
const clients = ref<BrokerClient[]>([])
const topics = ref('')
const named = computed(() => clients.value.filter((c) => c.name))
/** Whoever tried to join without a key. */
const strangers = computed(() => clients.value.find((c) => !c.name))
const stands = (name: string) => clients.value.find((c) => c.name === name)
const refusals = (c: BrokerClient) =>
  `${c.refused === 1 ? 'Refused once' : `Refused ${c.refused} times`}, last: ${c.why}`
const read = () =>
  notices.attempt(async () => {
    clients.value = await ask(api.GET('/api/broker/clients'))
  })
/** How often it is looked at how the clients stand, which nothing tells by itself. */
const LOOK_EVERY = 5000
useIntervalFn(() => void read(), LOOK_EVERY, { immediateCallback: true })

const at = ref<{ host: string; port: string }>()
onMounted(() => notices.attempt(async () => (at.value = await ask(api.GET('/api/broker')))))
/** Where everything is listened to, any address of the machine will do: the one of this page is known to work. */
const host = computed(() => (['0.0.0.0', '::'].includes(at.value?.host ?? '') ? location.hostname : at.value?.host))
const rights = (c: BrokerClient) => {
  const [says, hears] = [c.publish.join(', '), c.subscribe.join(', ')]
  return says === hears ? `says and hears ${says}` : `says ${says || 'nothing'}, hears ${hears || 'nothing'}`
}

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
  <div>
    <section v-if="at">
      <h2>How to join</h2>
      <dl class="join small">
        <dt class="soft">Address</dt>
        <dd class="mono">{{ host }}</dd>
        <dt class="soft">Port</dt>
        <dd class="mono">{{ at.port }}</dd>
        <dt class="soft">User</dt>
        <dd>the name of a client below</dd>
        <dt class="soft">Password</dt>
        <dd>its key, shown once when it is made</dd>
        <dt class="soft">Protocol</dt>
        <dd>MQTT 3.1.1 or 5, without TLS</dd>
      </dl>
    </section>
    <ClientKeys
      title="Who may join this broker"
      help="Each client joins with its name and its key, and says and hears its own topics only."
      :names="named.map((c) => c.name)"
      :add="add"
      :remove="remove"
    >
      <template #stands="{ client }">
        <span v-for="c in [stands(client)].filter((one) => !!one)" :key="c.name" class="small soft">
          {{ c.connected ? (c.connected === 1 ? 'connected' : `${c.connected} connections`) : 'not connected' }}
          · {{ rights(c) }}
          <span v-if="c.refused" class="refused"> · {{ refusals(c) }}</span>
          <span v-if="c.dropped" class="refused"> · {{ c.dropped }} messages dropped, since it does not read them</span>
        </span>
      </template>
      <label class="small"
        >Topics
        <input v-model="topics" class="mono topics" placeholder="{name}/#" aria-label="Topics of the new client" />
      </label>
    </ClientKeys>
    <p v-if="strangers" class="small refused" role="status">Others: {{ refusals(strangers) }}</p>
  </div>
</template>

<style scoped>
.small {
  font-size: var(--type-small);
}
.join {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: var(--space-2) var(--space-10);
  margin: var(--space-6) 0 var(--space-16);
}
dd {
  margin: 0;
}
.refused {
  color: var(--ember);
}
.topics {
  background: var(--sheet);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  padding: var(--space-4) var(--space-8);
  margin-left: var(--space-6);
  width: 260px;
}
</style>
