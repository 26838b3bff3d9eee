<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, Problem } from '@/api/client'
import type { FoundDevice, Proposal } from '@/api/types'
import BoxConnecting from '@/components/connection/BoxConnecting.vue'
import BridgePairing from '@/components/connection/BridgePairing.vue'
import ConnectionList from '@/components/connection/ConnectionList.vue'
import GatewayJoining from '@/components/connection/GatewayJoining.vue'
import RoomPicker from '@/components/inputs/RoomPicker.vue'
import ThingImport from '@/components/connection/ThingImport.vue'
import ThingKey from '@/components/connection/ThingKey.vue'
import { keyOf, useAdding } from '@/stores/adding'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

const home = useHome()
const notices = useNotices()

const key = keyOf
const adding = useAdding()
const choice = adding.choice
const proposals = ref(new Map<string, Proposal>())
const address = ref('')
const looking = ref(false)
const addressWrong = ref('')
const taking = ref(false)
const wrong = ref('')

const fresh = computed(() => home.found.devices.filter((d) => !d.device))
const inHome = computed(() => home.found.devices.filter((d) => d.device))

/** How many rows are drawn at first, and with each press more: strange hardware may be a flood. */
const AT_ONCE = 100
const drawn = ref(AT_ONCE)
const gateways = computed(() =>
  home.connections.flatMap((c) => c.gateways.map((gateway) => ({ connection: c.id, gateway }))),
)
const ticked = computed(() => fresh.value.filter((d) => choice(d).ticked))

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
      wrong.value = error instanceof Problem ? error.message : String(error)
    }
  },
  { debounce: 120 },
)

const thingImport = useTemplateRef('thingImport')

async function look(at = '') {
  if (/^https?:\/\//.test(at)) {
    addressWrong.value = (await thingImport.value?.fromAddress(at)) ?? ''
    if (!addressWrong.value) address.value = ''
    return
  }
  looking.value = true
  addressWrong.value = ''
  try {
    await ask(api.POST('/api/found/look', { body: { address: at || undefined } }))
    if (at) address.value = ''
  } catch (error) {
    addressWrong.value = error instanceof Problem ? error.message : String(error)
  } finally {
    looking.value = false
  }
}
onMounted(() => void look())

async function add() {
  taking.value = true
  wrong.value = ''
  try {
    const ids = await ask(api.POST('/api/devices', { body: asked() }))
    for (const d of ticked.value) adding.forget(d)
    notices.done(ids.length === 1 ? '1 device is in the home.' : `${ids.length} devices are in the home.`, () =>
      Promise.all(ids.map((id) => ask(api.DELETE('/api/devices/{id}', { params: { path: { id } } })))),
    )
  } catch (error) {
    wrong.value = error instanceof Problem ? error.message : String(error)
  } finally {
    taking.value = false
  }
}

const install = (model: string) =>
  notices.attempt(async () => {
    await ask(api.POST('/api/profiles/{model}/install', { params: { path: { model } } }))
    notices.done(`The profile ${model} is installed.`)
  })

// Operated by hand, a device shows which row is its own.
const REACTS_FOR = 4000
const reacting = (d: FoundDevice) => !!d.reacted && home.now - Date.parse(d.reacted) < REACTS_FOR

const identify = (d: FoundDevice) =>
  notices.attempt(() =>
    ask(api.POST('/api/found/identify', { body: { connection: d.connection, hardware: d.hardware } })),
  )
/** What was removed has its name, room, history and uses again. */
const bringBack = (d: FoundDevice) =>
  notices.attempt(async () => {
    const { id, title } = d.former!
    await ask(api.POST('/api/devices/{id}/restore', { params: { path: { id } } }))
    adding.forget(d)
    notices.done(`${title} is in the home again, with its name, room, history and uses.`, () =>
      ask(api.DELETE('/api/devices/{id}', { params: { path: { id } } })),
    )
  })
const replace = (d: FoundDevice, id: string, title: string) =>
  notices.attempt(async () => {
    const before = home.device(id)
    await ask(
      api.POST('/api/devices/{id}/hardware', {
        params: { path: { id } },
        body: { connection: d.connection, hardware: d.hardware },
      }),
    )
    adding.forget(d)
    notices.done(`${d.label} is now ${title}: name, room, history and every use go on.`, async () => {
      if (before)
        await ask(
          api.POST('/api/devices/{id}/hardware', {
            params: { path: { id } },
            body: { connection: before.connection, hardware: before.hardware },
          }),
        )
    })
  })

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

function tickAll(on: boolean) {
  for (const d of fresh.value) if (d.profile) choice(d).ticked = on
}
const allTicked = computed(() => fresh.value.length > 0 && fresh.value.every((d) => !d.profile || choice(d).ticked))
</script>

<template>
  <div class="page">
    <header class="head">
      <div>
        <h1>Found</h1>
        <p class="soft">What announced itself. Tick what belongs in the home, give it a name and a room.</p>
      </div>
      <Button severity="secondary" :label="looking ? 'Looking …' : 'Look again'" :disabled="looking" @click="look()" />
    </header>

    <div class="columns">
      <div>
        <section v-if="home.found.bridges.length" class="part">
          <h2>Bridges and transceivers</h2>
          <template v-for="b in home.found.bridges" :key="b.address">
            <BridgePairing v-if="b.pairs" :bridge="b" />
            <BoxConnecting v-else :box="b" />
          </template>
        </section>

        <section v-if="gateways.length" class="part">
          <h2>Radio gateways</h2>
          <GatewayJoining v-for="g in gateways" :key="g.gateway.name" :connection="g.connection" :gateway="g.gateway" />
        </section>

        <section class="part">
          <h2>Devices</h2>
          <p v-if="!fresh.length && !inHome.length" class="soft empty">
            Nothing has announced itself yet. Pair with a bridge, or let a radio gateway join the broker.
          </p>
          <p v-else-if="!fresh.length" class="soft empty">Everything found is in the home.</p>
          <template v-else>
            <table>
              <thead>
                <tr>
                  <th>
                    <Checkbox
                      :model-value="allTicked"
                      binary
                      aria-label="Tick all"
                      @update:model-value="tickAll($event)"
                    />
                  </th>
                  <th>Found</th>
                  <th>Name</th>
                  <th>Room</th>
                </tr>
              </thead>
              <tbody>
                <tr
                  v-for="d in fresh.slice(0, drawn)"
                  :key="key(d)"
                  :class="{ ticked: choice(d).ticked, reacting: reacting(d) }"
                >
                  <td>
                    <Checkbox
                      v-model="choice(d).ticked"
                      binary
                      :disabled="!d.profile"
                      :aria-label="`Take ${d.label} into the home`"
                    />
                  </td>
                  <td>
                    <b class="label"
                      >{{ d.label }}
                      <span v-if="reacting(d)" class="reacts" role="status">reacts now</span>
                      <button
                        v-if="d.canIdentify"
                        class="plain link identify"
                        :aria-label="`Identify ${d.label}`"
                        @click="identify(d)"
                      >
                        Identify
                      </button>
                    </b>
                    <span class="soft small">
                      {{ d.maker }} · {{ d.profile ?? d.model }}
                      <template v-if="d.roomHint"> · its bridge says {{ d.roomHint }}</template>
                      <template v-if="d.groups"> · in its bridge’s group {{ d.groups }}</template>
                    </span>
                    <span v-if="!d.profile" class="small missing">
                      It needs the profile {{ d.model }}.
                      <button v-if="d.installable" class="plain link" @click="install(d.model)">Install it</button>
                      <RouterLink v-else class="link" :to="{ path: '/profiles/new', query: { model: d.model } }">
                        Write or import one
                      </RouterLink>
                    </span>
                    <ThingKey v-if="d.locked" :device="d" />
                    <span class="soft small">{{ d.offers.join(', ') }}</span>
                    <span class="soft small mono">{{ d.hardware }}</span>
                    <p v-if="d.former" class="small back">
                      It was {{ d.former.title }}{{ d.former.room ? `, ${d.former.room}` : '' }}, before that was
                      removed.
                      <button
                        class="plain link"
                        :aria-label="`Bring ${d.former.title} back with ${d.label}`"
                        @click="bringBack(d)"
                      >
                        Bring it back
                      </button>
                    </p>
                    <p v-for="c in d.candidates ?? []" :key="c.id" class="small back">
                      It may be {{ c.title }}, come back{{
                        c.lastHeard ? `: that was last heard ${home.times.since(c.lastHeard, home.now)}` : ''
                      }}.
                      <button
                        class="plain link"
                        :aria-label="`Put ${d.label} in the place of ${c.title}`"
                        @click="replace(d, c.id, c.title)"
                      >
                        Put it in its place
                      </button>
                    </p>
                  </td>
                  <td>
                    <template v-if="choice(d).ticked">
                      <InputText
                        v-model="choice(d).title"
                        fluid
                        :placeholder="proposals.get(d.hardware)?.title ?? 'Name'"
                        :aria-label="`Name for ${d.label}`"
                      />
                      <span v-if="proposals.get(d.hardware)?.near" class="near small">
                        Easily confused with {{ proposals.get(d.hardware)?.near }}
                      </span>
                    </template>
                  </td>
                  <td>
                    <RoomPicker v-if="choice(d).ticked" v-model="choice(d).room" :label="`Room for ${d.label}`" />
                  </td>
                </tr>
              </tbody>
            </table>
            <p v-if="fresh.length > drawn" class="soft small">
              {{ drawn }} of {{ fresh.length }} are shown.
              <button class="plain link" @click="drawn += AT_ONCE">Show more</button>
            </p>
            <div v-if="ticked.length" class="all">
              <span class="soft small">For all {{ ticked.length }} ticked:</span>
              <span class="pick"><RoomPicker v-model="roomForAll" label="Room for all ticked" /></span>
              <Button
                v-if="ticked.some((d) => d.roomHint)"
                size="small"
                severity="secondary"
                label="Use the rooms that their bridge names"
                @click="takeRoomHints"
              />
            </div>
            <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
            <p class="go">
              <Button
                :label="ticked.length ? `Take ${ticked.length} into the home` : 'Take into the home'"
                :disabled="!ticked.length || taking"
                @click="add"
              />
              <span class="soft small"
                >Names left empty follow the pattern <code class="mono">{{ home.house?.namePattern }}</code> of
                <RouterLink class="link" to="/house">the house</RouterLink>.</span
              >
            </p>
          </template>
        </section>

        <section v-if="inHome.length" class="part">
          <h2>In the home already</h2>
          <ul class="already">
            <li v-for="d in inHome.slice(0, AT_ONCE)" :key="key(d)">
              <RouterLink class="link" :to="`/devices/${d.device}`">{{ home.device(d.device)?.title }}</RouterLink>
              <span class="soft small">{{ d.label }}</span>
            </li>
          </ul>
          <p v-if="inHome.length > AT_ONCE" class="soft small">
            {{ inHome.length - AT_ONCE }} more are under <RouterLink class="link" to="/devices">Devices</RouterLink>.
          </p>
        </section>
      </div>

      <aside>
        <section>
          <h2>Something at an address</h2>
          <p class="soft small">A bridge or transceiver by host and port, or a Thing Description by http://…</p>
          <form class="address" @submit.prevent="look(address.trim())">
            <InputText
              v-model="address"
              fluid
              placeholder="host:port or http://…"
              aria-label="Address to look at"
              :invalid="!!addressWrong"
            />
            <Button type="submit" severity="secondary" label="Look there" :disabled="!address.trim() || looking" />
          </form>
          <p v-if="addressWrong" class="wrong small" role="alert">{{ addressWrong }}</p>
        </section>
        <section>
          <h2>A device that no profile knows</h2>
          <p class="soft small">Over HTTP, or by messages on a line of TCP. Over MQTT, begin at the broker’s topics.</p>
          <p>
            <RouterLink
              class="link"
              :to="{ path: '/found/describe', query: address.trim() ? { address: address.trim() } : {} }"
            >
              Describe it yourself
            </RouterLink>
          </p>
        </section>
        <ThingImport ref="thingImport" />
        <ConnectionList />
      </aside>
    </div>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: var(--space-20) var(--space-26) var(--space-60);
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: flex-end;
  gap: var(--space-20);
  border-bottom: 1px solid var(--rule);
  padding-bottom: var(--space-14);
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: var(--space-34);
}
.part {
  margin-top: var(--space-20);
}
.empty {
  padding: var(--space-12) 0;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin-top: var(--space-6);
}
th {
  text-align: left;
  font-size: var(--type-small);
  color: var(--ink-soft);
  font-weight: 600;
  padding: var(--space-4) var(--space-8) var(--space-6) 0;
}
td {
  vertical-align: top;
  border-top: 1px solid var(--rule);
  padding: var(--space-10) var(--space-10) var(--space-10) 0;
}
td:first-child,
th:first-child {
  width: 34px;
  padding-left: var(--space-6);
}
td:nth-child(3) {
  width: 30%;
}
td:nth-child(4) {
  width: 170px;
}
.ticked td {
  background: var(--sheet);
}
.label {
  display: block;
  font-weight: 600;
}
.small {
  font-size: var(--type-small);
  display: block;
}
.reacting td {
  background: var(--verdigris-wash);
}
.reacts {
  color: var(--verdigris);
  font-size: var(--type-small);
  margin-left: var(--space-8);
}
.identify {
  font-size: var(--type-small);
  margin-left: var(--space-8);
}
.back {
  border-left: 3px solid var(--ochre);
  padding-left: var(--space-8);
  margin-top: var(--space-4);
}
.all {
  display: flex;
  gap: var(--space-12);
  align-items: center;
  margin-top: var(--space-10);
}
.pick {
  width: 200px;
}
.missing {
  color: var(--ochre);
}
.near {
  color: var(--ochre);
}
.wrong {
  color: var(--ember);
  margin-top: var(--space-8);
}
.go {
  margin-top: var(--space-12);
  display: flex;
  gap: var(--space-16);
  align-items: center;
}
.already li {
  display: flex;
  gap: var(--space-12);
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
  align-items: baseline;
}
.already {
  margin-top: var(--space-8);
}
aside {
  display: grid;
  gap: var(--space-26);
  align-content: start;
  padding-top: var(--space-20);
}
.address {
  display: grid;
  gap: var(--space-8);
  margin-top: var(--space-8);
  justify-items: start;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
