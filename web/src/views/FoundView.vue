<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import BoxConnecting from '@/components/connection/BoxConnecting.vue'
import BridgePairing from '@/components/connection/BridgePairing.vue'
import ConnectionList from '@/components/connection/ConnectionList.vue'
import GatewayJoining from '@/components/connection/GatewayJoining.vue'
import ThingImport from '@/components/connection/ThingImport.vue'
import FoundTable from '@/components/found/FoundTable.vue'
import PlainPage from '@/components/page/PlainPage.vue'
import { keyOf } from '@/stores/adding'
import { useHome } from '@/stores/home'

const home = useHome()
const address = ref('')
const looking = ref(false)
const addressWrong = ref('')

const fresh = computed(() => home.found.devices.filter((d) => !d.device))
const inHome = computed(() => home.found.devices.filter((d) => d.device))
const titleOf = (id?: string) => home.device(id)?.title
/** How many of those that are in the home are listed here. */
const LISTED = 100
const gateways = computed(() =>
  home.connections.flatMap((c) => c.gateways.map((gateway) => ({ connection: c.id, gateway }))),
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
    addressWrong.value = reasonOf(error)
  } finally {
    looking.value = false
  }
}
onMounted(() => void look())
</script>

<template>
  <PlainPage title="Found">
    <template #lead>What announced itself. Tick what belongs in the home, give it a name and a room.</template>
    <template #buttons>
      <a class="link" href="#elsewhere">Something that is not listed?</a>
      <Button severity="secondary" :label="looking ? 'Looking …' : 'Look again'" :disabled="looking" @click="look()" />
    </template>

    <section v-if="home.found.bridges.length || gateways.length">
      <h2>Bridges and gateways</h2>
      <div class="boxes">
        <template v-for="b in home.found.bridges" :key="b.address">
          <BridgePairing v-if="b.pairs" :bridge="b" />
          <BoxConnecting v-else :box="b" />
        </template>
        <GatewayJoining v-for="g in gateways" :key="g.gateway.name" :connection="g.connection" :gateway="g.gateway" />
      </div>
    </section>

    <section class="part">
      <h2>Devices</h2>
      <p v-if="!fresh.length && !inHome.length" class="soft empty">
        Nothing has announced itself yet. Pair with a bridge, or let a radio gateway join the broker.
      </p>
      <p v-else-if="!fresh.length" class="soft empty">Everything found is in the home.</p>
      <FoundTable v-else :devices="fresh" />
    </section>

    <div id="elsewhere" class="elsewhere">
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
    </div>

    <section v-if="inHome.length" class="part">
      <h2>In the home already</h2>
      <ul class="already">
        <li v-for="d in inHome.slice(0, LISTED)" :key="keyOf(d)">
          <RouterLink class="link" :to="`/devices/${d.device}`">{{ titleOf(d.device) }}</RouterLink>
          <span class="soft small">{{ d.label }}</span>
        </li>
      </ul>
      <p v-if="inHome.length > LISTED" class="soft small">
        {{ inHome.length - LISTED }} more are under <RouterLink class="link" to="/devices">Devices</RouterLink>.
      </p>
    </section>
  </PlainPage>
</template>

<style scoped>
.part {
  margin-top: var(--space-20);
}
.boxes {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(340px, 100%), 1fr));
  column-gap: var(--space-34);
}
.empty {
  padding: var(--space-12) 0;
}
.small {
  font-size: var(--type-small);
}
.wrong {
  color: var(--ember);
}
.already {
  margin-top: var(--space-8);
  columns: 320px;
  column-gap: var(--space-34);
}
.already li {
  display: flex;
  gap: var(--space-12);
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
  align-items: baseline;
  break-inside: avoid;
}
.elsewhere {
  margin-top: var(--space-34);
  border-top: 1px solid var(--rule);
  padding-top: var(--space-20);
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
  gap: var(--space-26) var(--space-34);
}
.address {
  display: grid;
  gap: var(--space-8);
  margin-top: var(--space-8);
  justify-items: start;
}
</style>
