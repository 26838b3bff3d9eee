<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, onMounted, reactive, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, Problem } from '@/api/client'
import type { FoundDevice, Proposal } from '@/api/types'
import BridgePairing from '@/components/BridgePairing.vue'
import ConnectionList from '@/components/ConnectionList.vue'
import RoomPicker from '@/components/RoomPicker.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

const home = useHome()
const notices = useNotices()

interface Choice {
  ticked: boolean
  title: string
  room: string
}
const key = (d: FoundDevice) => `${d.connection}/${d.hardware}`
const choices = reactive(new Map<string, Choice>())
const proposals = ref(new Map<string, Proposal>())
const address = ref('')
const looking = ref(false)
const addressWrong = ref('')
const adding = ref(false)
const wrong = ref('')

const fresh = computed(() => home.found.devices.filter((d) => !d.device))
const inHome = computed(() => home.found.devices.filter((d) => d.device))
const ticked = computed(() => fresh.value.filter((d) => choices.get(key(d))?.ticked))

watch(
  fresh,
  (list) => {
    for (const d of list) if (!choices.has(key(d))) choices.set(key(d), { ticked: false, title: '', room: '' })
  },
  { immediate: true },
)

const choice = (d: FoundDevice) => choices.get(key(d))!
const asked = () =>
  ticked.value.map((d) => ({
    connection: d.connection,
    hardware: d.hardware,
    title: choice(d).title.trim(),
    room: choice(d).room || undefined,
  }))

// The hub proposes names by the owner's pattern; what is typed stays.
let asking: ReturnType<typeof setTimeout> | undefined
watch(
  () => JSON.stringify(asked()),
  () => {
    clearTimeout(asking)
    if (!ticked.value.length) {
      proposals.value = new Map()
      return
    }
    asking = setTimeout(async () => {
      try {
        const list = await ask(api.POST('/api/found/names', { body: asked() }))
        proposals.value = new Map(list.map((p) => [p.hardware, p]))
        wrong.value = ''
      } catch (error) {
        wrong.value = error instanceof Problem ? error.message : String(error)
      }
    }, 120)
  },
)

async function look(at = '') {
  looking.value = true
  addressWrong.value = ''
  try {
    await ask(api.POST('/api/found/look', { body: { address: at || undefined } }))
    address.value = ''
  } catch (error) {
    addressWrong.value = error instanceof Problem ? error.message : String(error)
  } finally {
    looking.value = false
  }
}
onMounted(() => void look())

async function add() {
  adding.value = true
  wrong.value = ''
  try {
    const ids = await ask(api.POST('/api/devices', { body: asked() }))
    for (const d of ticked.value) choices.delete(key(d))
    notices.done(ids.length === 1 ? '1 device is in the home.' : `${ids.length} devices are in the home.`, () =>
      Promise.all(ids.map((id) => ask(api.DELETE('/api/devices/{id}', { params: { path: { id } } })))),
    )
  } catch (error) {
    wrong.value = error instanceof Problem ? error.message : String(error)
  } finally {
    adding.value = false
  }
}

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
          <h2>Bridges</h2>
          <BridgePairing v-for="b in home.found.bridges" :key="b.address" :bridge="b" />
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
                <tr v-for="d in fresh" :key="key(d)" :class="{ ticked: choice(d).ticked }">
                  <td>
                    <Checkbox
                      v-model="choice(d).ticked"
                      binary
                      :disabled="!d.profile"
                      :aria-label="`Take ${d.label} into the home`"
                    />
                  </td>
                  <td>
                    <b class="label">{{ d.label }}</b>
                    <span class="soft small">
                      {{ d.maker }} · {{ d.profile ?? `no profile for the model ${d.model}` }}
                      <template v-if="d.roomHint"> · its bridge says {{ d.roomHint }}</template>
                    </span>
                    <span class="soft small">{{ d.offers.join(', ') }}</span>
                    <span class="soft small mono">{{ d.hardware }}</span>
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
            <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
            <p class="go">
              <Button
                :label="ticked.length ? `Take ${ticked.length} into the home` : 'Take into the home'"
                :disabled="!ticked.length || adding"
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
            <li v-for="d in inHome" :key="key(d)">
              <RouterLink class="link" :to="`/devices/${d.device}`">{{ home.device(d.device)?.title }}</RouterLink>
              <span class="soft small">{{ d.label }}</span>
            </li>
          </ul>
        </section>
      </div>

      <aside>
        <section>
          <h2>A bridge at an address</h2>
          <form class="address" @submit.prevent="look(address.trim())">
            <InputText
              v-model="address"
              fluid
              placeholder="host:port"
              aria-label="Address of a bridge"
              :invalid="!!addressWrong"
            />
            <Button type="submit" severity="secondary" label="Look there" :disabled="!address.trim() || looking" />
          </form>
          <p v-if="addressWrong" class="wrong small" role="alert">{{ addressWrong }}</p>
        </section>
        <ConnectionList />
      </aside>
    </div>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: 20px 26px 60px;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: flex-end;
  gap: 20px;
  border-bottom: 1px solid var(--rule);
  padding-bottom: 14px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 34px;
}
.part {
  margin-top: 20px;
}
.empty {
  padding: 12px 0;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin-top: 6px;
}
th {
  text-align: left;
  font-size: 13px;
  color: var(--ink-soft);
  font-weight: 600;
  padding: 4px 8px 6px 0;
}
td {
  vertical-align: top;
  border-top: 1px solid var(--rule);
  padding: 10px 10px 10px 0;
}
td:first-child,
th:first-child {
  width: 34px;
  padding-left: 6px;
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
  font-size: 13px;
  display: block;
}
.near {
  color: var(--ochre);
}
.wrong {
  color: var(--ember);
  margin-top: 8px;
}
.go {
  margin-top: 12px;
  display: flex;
  gap: 16px;
  align-items: center;
}
.already li {
  display: flex;
  gap: 12px;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
  align-items: baseline;
}
.already {
  margin-top: 8px;
}
aside {
  display: grid;
  gap: 26px;
  align-content: start;
  padding-top: 20px;
}
.address {
  display: grid;
  gap: 8px;
  margin-top: 8px;
  justify-items: start;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
