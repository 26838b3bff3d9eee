<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, Problem } from '@/api/client'
import type { Connection, ConnectionEdit, TestResult } from '@/api/types'
import { standing } from '@/lib/connections'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import BrokerKeys from './BrokerKeys.vue'
import GatewayJoining from './GatewayJoining.vue'
import TopicWatch from './TopicWatch.vue'
import GivenThings from './GivenThings.vue'
import PageHead from '@/components/page/PageHead.vue'

/** One connection: how it stands, what it carries, and what can be done about it. */
const props = defineProps<{
  connection: Connection
  /** The topic of which a device is to be made, if somebody comes for that. */
  topic?: string
}>()
const home = useHome()
const notices = useNotices()
const router = useRouter()

const c = computed(() => props.connection)
const users = computed(() => home.devices.filter((d) => d.connection === c.value.id))
const path = computed(() => ({ path: { id: c.value.id } }))

const tested = ref<TestResult>()
const testing = ref(false)
async function test() {
  testing.value = true
  tested.value = undefined
  await notices.attempt(async () => {
    tested.value = await ask(api.POST('/api/connections/{id}/test', { params: path.value }))
  })
  testing.value = false
}

const edit = (body: ConnectionEdit) => ask(api.PATCH('/api/connections/{id}', { params: path.value, body }))
const pause = (paused: boolean) => notices.attempt(() => edit({ paused }))

const editing = ref(false)
const title = ref('')
const address = ref('')
const secret = ref('')
const wrong = ref('')
function begin() {
  title.value = c.value.title
  address.value = c.value.address ?? ''
  secret.value = ''
  wrong.value = ''
  editing.value = !editing.value
}
async function save() {
  const before = { title: c.value.title, address: c.value.address }
  try {
    await edit({
      title: title.value.trim(),
      address: c.value.standing ? undefined : address.value.trim(),
      secret: secret.value || undefined,
    })
    editing.value = false
    notices.done(`${title.value} saved.`, () => edit(c.value.standing ? { title: before.title } : before))
  } catch (error) {
    wrong.value = error instanceof Problem ? (error.places[0]?.message ?? error.message) : String(error)
  }
}

const removing = ref(false)
const remove = () =>
  notices.attempt(async () => {
    const { title } = c.value
    await ask(
      api.DELETE('/api/connections/{id}', {
        params: { ...path.value, query: { devices: users.value.length > 0 } },
      }),
    )
    notices.done(`${title} is no longer connected; its key was deleted.`)
    await router.replace('/connections')
  })
</script>

<template>
  <PageHead :title="c.title">
    {{ c.what
    }}<template v-if="c.address">
      · <span class="mono">{{ c.address }}</span></template
    >
    <template v-if="c.serial">
      · <span class="mono">{{ c.serial }}</span></template
    >
    <template #buttons>
      <Button severity="secondary" :label="testing ? 'Testing …' : 'Test'" :disabled="testing" @click="test" />
      <Button severity="secondary" :label="c.paused ? 'Resume' : 'Pause'" @click="pause(!c.paused)" />
      <Button severity="secondary" :label="editing ? 'Done' : 'Edit'" @click="begin" />
      <Button v-if="!c.standing" severity="secondary" label="Remove" @click="removing = !removing" />
    </template>
  </PageHead>

  <p v-if="tested" :class="tested.ok ? 'good' : 'wrong'" role="status">
    {{ tested.ok ? `It answers, in ${Math.round(tested.milliseconds)} ms.` : tested.reason }}
  </p>
  <section v-if="removing" class="lost" role="alert">
    <p>
      <b>What would be lost:</b> its key,
      {{
        users.length
          ? `and ${users.length === 1 ? 'the device' : `${users.length} devices`} in the home that it carries: ${users
              .slice(0, 6)
              .map((d) => d.title)
              .join(', ')}${users.length > 6 ? ' …' : ''}. What uses them will say so.`
          : 'nothing else: no device in the home uses it.'
      }}
    </p>
    <p class="buttons">
      <Button
        severity="danger"
        :label="users.length ? `Remove it with ${users.length} devices` : 'Remove it'"
        @click="remove"
      />
      <Button severity="secondary" label="Keep it" @click="removing = false" />
    </p>
  </section>

  <form v-if="editing" class="edit" @submit.prevent="save">
    <label><span>Name</span><InputText v-model="title" fluid /></label>
    <label v-if="!c.standing"
      ><span>Address</span><InputText v-model="address" fluid placeholder="host:port" :invalid="!!wrong"
    /></label>
    <label v-if="!c.standing"
      ><span>New key or password</span
      ><InputText v-model="secret" type="password" fluid autocomplete="off" placeholder="kept, never shown again"
    /></label>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div><Button type="submit" label="Save" :disabled="!title.trim()" /></div>
  </form>

  <dl class="figures">
    <div>
      <dt>State</dt>
      <dd>{{ standing(c, home.times, home.now) }}</dd>
    </div>
    <div>
      <dt>Messages in the last minute</dt>
      <dd class="mono">
        {{ c.perMinute }}
        <RouterLink class="link" :to="{ path: '/messages', query: { connection: c.id } }">See them</RouterLink>
      </dd>
    </div>
    <div>
      <dt>A command takes</dt>
      <dd class="mono">{{ c.roundTrip ? `${c.roundTrip.toFixed(1)} ms` : '–' }}</dd>
    </div>
    <div>
      <dt>Commands waiting</dt>
      <dd class="mono">{{ c.waiting }}</dd>
    </div>
  </dl>
  <p v-if="c.reason && !c.paused" class="wrong">{{ c.reason }}</p>
  <p v-if="c.lastFailure" class="soft small">The last command that failed: {{ c.lastFailure }}</p>
  <p v-if="c.faults" class="soft small">
    {{ c.faults }} {{ c.faults === 1 ? 'message' : 'messages' }} refused, the last: {{ c.lastFault }}
  </p>

  <section v-if="c.gateways.length" class="part">
    <h2>Radio gateways</h2>
    <GatewayJoining v-for="g in c.gateways" :key="g.name" :connection="c.id" :gateway="g" />
  </section>

  <BrokerKeys v-if="c.kind === 'hubBroker'" class="part" />
  <TopicWatch
    v-if="(c.kind === 'hubBroker' || c.kind === 'broker') && !c.paused"
    class="part"
    :connection="c.id"
    :topic="topic"
  />

  <GivenThings class="part" :connection="c.id" />

  <EarlierVersions :id="c.id" class="part" kind="connection" :revision="c.revision" />

  <section class="part">
    <h2>Its devices in the home</h2>
    <ul v-if="users.length" class="users">
      <li v-for="d in users" :key="d.id">
        <RouterLink class="link" :to="`/devices/${d.id}`">{{ d.title }}</RouterLink>
        <span class="soft">{{ home.roomTitle(d.room) }}</span>
      </li>
    </ul>
    <p v-else class="soft">None yet. <RouterLink class="link" to="/found">See what was found.</RouterLink></p>
  </section>
</template>

<style scoped>
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
}
.figures {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: var(--space-16);
  padding: var(--space-16) 0;
}
dt {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
dd {
  margin: var(--space-2) 0 0;
  font-size: var(--type-head);
}
.good {
  color: var(--verdigris);
  margin-top: var(--space-12);
}
.wrong {
  color: var(--ember);
  margin-top: var(--space-8);
}
.small {
  font-size: var(--type-small);
  margin-top: var(--space-4);
  overflow-wrap: anywhere;
}
.lost {
  border-left: 3px solid var(--ember);
  background: var(--sheet);
  padding: var(--space-10) var(--space-14);
  margin-top: var(--space-14);
}
.lost .buttons {
  margin-top: var(--space-10);
}
.edit {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--space-12) var(--space-16);
  padding: var(--space-14) 0;
  border-bottom: 1px solid var(--rule);
  align-items: end;
}
label span:first-child {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.part {
  margin-top: var(--space-20);
}
.users {
  margin-top: var(--space-8);
  columns: 2;
}
.users li {
  padding: var(--space-4) 0;
  break-inside: avoid;
}
.users .soft {
  margin-left: var(--space-10);
  font-size: var(--type-small);
}
</style>
