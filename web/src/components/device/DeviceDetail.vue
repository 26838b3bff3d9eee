<script setup lang="ts">
import Button from 'primevue/button'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import type { Device, Property, PropertyState } from '@/api/types'
import CameraFace from '@/instruments/CameraFace.vue'
import { isUpkeep, mainState, tellingOrder } from '@/lib/devices'
import { PANELS } from '@/lib/panel/settings'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'
import AskDevice from './AskDevice.vue'
import CauseChain from './CauseChain.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import DeviceEdit from './DeviceEdit.vue'
import HoldersPanel from './HoldersPanel.vue'
import PropertyArticle from './PropertyArticle.vue'
import PageHead from '@/components/page/PageHead.vue'
import DeviceSettings from './DeviceSettings.vue'
import LampSettings from './LampSettings.vue'
import TryDevice from './TryDevice.vue'

/** Charts come when one is wanted: their library is large. */
const HistoryChart = defineAsyncComponent(() => import('@/components/history/HistoryChart.vue'))

const props = defineProps<{ device: Device }>()
const home = useHome()
const session = useSession()
const router = useRouter()

const editing = ref(false)
const keptTo = computed(() =>
  home.people
    .filter((p) => props.device.keptTo?.includes(p.id))
    .map((p) => p.title)
    .join(', '),
)
const chosenName = ref<string>()
const connection = computed(() => home.connections.find((c) => c.id === props.device.connection))

interface Row {
  property: Property
  state: PropertyState
}
const rows = computed<Row[]>(() =>
  props.device.description.properties
    .flatMap((property) => {
      const state = props.device.states.find((s) => s.name === property.name)
      return state && !property.setting && !state.idle ? [{ property, state }] : []
    })
    .sort((a, b) => tellingOrder(a.property) - tellingOrder(b.property)),
)
/** What the device is for; how it is doing is folded where there is something that it is for. */
const main = computed(() => rows.value.filter((r) => !isUpkeep(r.property)))
const upkeep = computed(() => (main.value.length ? rows.value.filter((r) => isUpkeep(r.property)) : []))
const unfolded = ref(false)
const shown = computed(() => (unfolded.value || !main.value.length ? rows.value : main.value))
const chosen = computed(
  () =>
    rows.value.find((r) => r.property.name === (chosenName.value ?? mainState(props.device)?.name)) ?? rows.value[0],
)
/** The entry that explains the value: who holds it, or what last changed it. */
const explained = computed(() => {
  const top = chosen.value?.state.holders.find((h) => h.inEffect)
  return top?.cause || chosen.value?.state.changedBy
})
const chartable = computed(() => chosen.value && ['number', 'boolean'].includes(chosen.value.property.type))

watch(
  () => props.device.id,
  () => {
    editing.value = false
  },
)

/** Whether the device is being tried, and the settings to look at first. */
const route = useRoute()
const trying = computed({
  get: () => route.query.try !== undefined,
  set: (on: boolean) => void router.replace({ query: { ...route.query, try: on ? '1' : undefined } }),
})
const look = ref<string[]>([])
const buttons = computed(() => props.device.description.actions.filter((a) => a.role !== 'stop'))

const remove = () =>
  useChanges('device').remove(props.device, `${props.device.title} removed from the home.`, () =>
    router.push('/devices'),
  )

const kinds: Record<string, string> = {
  scene: '/scenes/',
  sequence: '/scenes/',
  rule: '/rules/',
  schedule: '/schedules/',
  dashboard: '/dashboards/',
}
/** What a panel sees is asked for by its owner, on the page of panels, and not by looking at its readings. */
const pictures = computed(() => (props.device.connection === PANELS ? [] : (props.device.description.pictures ?? [])))
</script>

<template>
  <PageHead :title="device.title" :pick="device.own ? undefined : { kind: 'device', id: device.id }">
    {{
      device.own
        ? 'what the hub itself says, for rules, histories and dashboards'
        : [home.roomTitle(device.room) || 'no room yet', `${device.maker} ${device.model}`, connection?.title]
            .filter(Boolean)
            .join(' · ')
    }}
    <template v-if="!device.own && session.setsUp" #buttons>
      <AskDevice :device="device.id" :title="device.title" :actions="buttons" />
      <Button severity="secondary" label="Try it" :aria-pressed="trying" @click="trying = !trying" />
      <Button severity="secondary" :label="editing ? 'Done' : 'Name and room'" @click="editing = !editing" />
      <Button severity="secondary" label="Remove" @click="remove" />
    </template>
  </PageHead>
  <p v-if="device.silent" class="silent" role="alert">{{ device.silentReason }} What you see may be old.</p>
  <p v-if="device.attendedOnly" class="note"><b>Attended only:</b> a hand switches it on, automation does not.</p>
  <p v-if="device.keptTo?.length" class="note">
    <b>Set going or unlocked by</b> {{ [keptTo, 'the owners'].filter(Boolean).join(' and ') }} alone.
  </p>
  <DeviceEdit v-if="editing" :device="device" @done="editing = false" />
  <p v-if="device.note && !editing" class="note">{{ device.note }}</p>

  <TryDevice v-if="trying" :key="device.id" :device="device" @look="look = $event" @done="trying = false" />

  <div class="columns">
    <div>
      <CameraFace
        v-for="p in pictures"
        :key="p.name"
        class="picture"
        :device="device.id"
        :picture="p.name"
        :label="device.title"
      />
      <PropertyArticle
        v-for="{ property, state } in shown"
        :key="property.name"
        :device="device"
        :property="property"
        :state="state"
        :chosen="property.name === chosen?.property.name"
        @choose="chosenName = property.name"
      />
      <button
        v-if="upkeep.length"
        type="button"
        class="plain link small upkeep"
        :aria-expanded="unfolded"
        @click="unfolded = !unfolded"
      >
        {{ unfolded ? 'Fold' : 'Show' }} {{ upkeep.map((r) => r.property.title.toLowerCase()).join(', ') }}
        <span v-if="!unfolded" class="mono soft">{{ upkeep.map((r) => r.state.text).join(' · ') }}</span>
      </button>
      <LampSettings v-if="session.setsUp" :device="device" />
      <DeviceSettings v-if="session.setsUp" :device="device" :look="look" />
      <section v-if="device.description.events.length" class="events">
        <h2>Events</h2>
        <p class="soft">
          {{ device.description.events.map((e) => e.title).join(', ') }}. They appear in the journal and can start
          rules.
        </p>
      </section>
      <section v-if="chosen && chartable" class="chart">
        <h2>The last day: {{ chosen.property.title.toLowerCase() }} {{ chosen.property.unit }}</h2>
        <HistoryChart :device="device.id" :property="chosen.property" />
        <RouterLink
          class="link small"
          :to="{ path: '/history', query: { series: [`${device.id}~${chosen.property.name}`] } }"
          >Look further back</RouterLink
        >
      </section>
    </div>
    <aside>
      <HoldersPanel
        v-if="chosen?.property.writable"
        :device="device.id"
        :property="chosen.property"
        :state="chosen.state"
      />
      <CauseChain :entry="explained" />
      <section>
        <h2>Used by</h2>
        <ul v-if="device.usedBy.length" class="uses">
          <li v-for="u in device.usedBy" :key="u.id">
            <RouterLink class="link" :to="kinds[u.kind] + u.id">{{ u.title }}</RouterLink>
            <span class="soft">{{ u.through ? `${u.kind}, through ${u.through}` : u.kind }}</span>
          </li>
        </ul>
        <p v-else class="soft small">Nothing uses it yet.</p>
      </section>
      <RouterLink class="link small" :to="{ path: '/journal', query: { device: device.id } }">Its journal</RouterLink>
      <EarlierVersions v-if="!device.own" :id="device.id" kind="device" :revision="device.revision" />
    </aside>
  </div>
</template>

<style scoped>
.silent {
  margin-top: var(--space-12);
  padding: var(--space-8) var(--space-12);
  border-left: 3px solid var(--ember);
  background: var(--sheet);
}
.note {
  margin-top: var(--space-12);
  white-space: pre-line;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: var(--space-34);
  margin-top: var(--space-6);
}
.columns .picture {
  margin-top: var(--space-14);
}
.chart,
.events {
  margin-top: var(--space-16);
}
.events p {
  font-size: var(--type-small);
}
aside {
  display: grid;
  gap: var(--space-20);
  align-content: start;
  padding-top: var(--space-16);
}
.uses li {
  display: flex;
  gap: var(--space-8);
}
.uses,
.small {
  font-size: var(--type-small);
}
@media (max-width: 1100px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
.upkeep {
  min-height: var(--touch);
}
</style>
