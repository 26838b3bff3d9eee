<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import Button from 'primevue/button'
import MultiSelect from 'primevue/multiselect'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { BrowserSession, Device } from '@/api/types'
import AskDevice from '@/components/device/AskDevice.vue'
import DeviceSettings from '@/components/device/DeviceSettings.vue'
import PropertyControl from '@/components/device/PropertyControl.vue'
import PictureCode from '@/components/people/PictureCode.vue'
import CameraFace from '@/instruments/CameraFace.vue'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import { useSession } from '@/stores/session'
import LevelMeter from './LevelMeter.vue'
import PanelDimming from './PanelDimming.vue'
import PanelPictures from './PanelPictures.vue'

/** A panel as its owner sees it: what it shows and senses now, what it is told, how it is set, and which tablet it is. */
const props = defineProps<{ panel: Device }>()
const home = useHome()
const session = useSession()
const notices = useNotices()
const { change, remove } = useChanges('device')

const state = (name: string) => props.panel.states.find((s) => s.name === name)
const property = (name: string) => props.panel.description.properties.find((p) => p.name === name)!
const number = (name: string) => {
  const value = state(name)?.value
  return typeof value === 'number' ? value : 0
}
const facts = computed(() =>
  ['showing', 'lit', 'wokenBy', 'near', 'battery', 'charging', 'version'].flatMap((name) => {
    const s = state(name)
    return s?.text && s.certainty !== 'unknown' ? [{ name, title: property(name).title, text: s.text }] : []
  }),
)
const lookedAt = ref(false)
const showing = ref(false)
const setting = ref(false)

const sessions = shallowRef<BrowserSession[]>([])
const READS_EVERY = 20_000
async function read() {
  sessions.value = (await ask(api.GET('/api/sessions'))).sessions.filter((s) => s.person === props.panel.id)
}
onMounted(() => notices.attempt(read))
useIntervalFn(() => void read().catch(() => undefined), READS_EVERY)
const end = (id: string) =>
  notices.attempt(async () => {
    await ask(api.DELETE('/api/sessions/{id}', { params: { path: { id } } }))
    await read()
  })
</script>

<template>
  <article class="panel" :aria-label="panel.title">
    <header>
      <h2>
        <RouterLink :to="`/devices/${panel.id}`">{{ panel.title }}</RouterLink>
      </h2>
      <span v-if="panel.silent" class="away">{{ panel.silentReason }}</span>
      <span v-else class="there">connected</span>
      <RouterLink class="link log" :to="{ path: '/journal', query: { device: panel.id } }">What it did</RouterLink>
    </header>
    <dl>
      <div v-for="f in facts" :key="f.name">
        <dt>{{ f.title }}</dt>
        <dd class="mono">{{ f.text }}</dd>
      </div>
    </dl>
    <p class="row">
      <span class="soft">Dashboards</span>
      <MultiSelect
        :model-value="panel.dashboards ?? []"
        :options="home.dashboards"
        option-value="id"
        option-label="title"
        display="chip"
        :aria-label="`Dashboards of ${panel.title}`"
        @update:model-value="change(panel, { dashboards: $event })"
      />
    </p>
    <template v-if="!panel.silent">
      <LevelMeter label="Sees" :level="number('movement')" :from="number('seesFrom')" />
      <LevelMeter label="Hears" :level="number('noise')" :from="number('hearsFrom')" />
      <div class="row">
        <template v-for="name in ['lit', 'brightness']" :key="name">
          <PropertyControl
            v-if="state(name)"
            class="set"
            :device="panel.id"
            :property="property(name)"
            :state="state(name)!"
            :exact="false"
          />
        </template>
      </div>
      <div class="row"><AskDevice :device="panel.id" :title="panel.title" :actions="panel.description.actions" /></div>
      <CameraFace v-if="lookedAt" :device="panel.id" picture="view" :label="panel.title" :every="5" />
    </template>
    <PanelPictures :panel="panel" />
    <PanelDimming :panel="panel" />
    <ul v-if="sessions.length" :aria-label="`Tablets that are ${panel.title}`">
      <li v-for="s in sessions" :key="s.id">
        {{ s.device }} <span class="soft mono">{{ s.address }}</span>
        <span class="soft">used {{ home.times.since(s.used, home.now) }}</span>
        <button type="button" class="plain link" :aria-label="`End ${s.device} of ${panel.title}`" @click="end(s.id)">
          End
        </button>
      </li>
    </ul>
    <div class="row">
      <Button size="small" severity="secondary" label="Let a tablet in" @click="showing = true" />
      <Button
        size="small"
        severity="secondary"
        :label="`Look as ${panel.title}`"
        @click="notices.attempt(() => session.lookAs(panel.id))"
      />
      <Button
        v-if="!panel.silent && state('takesPictures')?.value === true"
        size="small"
        severity="secondary"
        :label="lookedAt ? 'Stop looking' : 'See what it sees'"
        @click="lookedAt = !lookedAt"
      />
      <Button
        size="small"
        severity="secondary"
        :label="setting ? 'Hide settings' : 'Settings'"
        @click="setting = !setting"
      />
      <Button size="small" severity="secondary" label="Remove" @click="remove(panel, `${panel.title} removed.`)" />
    </div>
    <DeviceSettings v-if="setting" :device="panel" />
    <PictureCode v-if="showing" :person="panel" @close="((showing = false), read())" />
  </article>
</template>

<style scoped>
.panel {
  display: grid;
  gap: var(--space-10);
  padding: var(--space-16) 0;
  border-top: 1px solid var(--rule);
}
header,
.row,
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8) var(--space-14);
  align-items: baseline;
  margin: 0;
}
h2 {
  margin: 0;
}
.away {
  color: var(--ember);
}
.there {
  color: var(--verdigris);
}
.log {
  margin-left: auto;
}
/* A scale needs room to be slid. */
.set {
  min-width: 220px;
}
dl {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-26);
  margin: 0;
}
dt {
  color: var(--ink-soft);
  font-size: var(--type-small);
}
dd {
  margin: 0;
}
</style>
