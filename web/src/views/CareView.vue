<script setup lang="ts">
import Button from 'primevue/button'
import Column from 'primevue/column'
import DataTable from 'primevue/datatable'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import type { Device } from '@/api/types'
import DifferenceSettle from '@/components/device/DifferenceSettle.vue'
import DevicesSelected from '@/components/device/DevicesSelected.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import { age, attentionFirst, emptying, heardAt, needsAttention, rhythmWords } from '@/lib/care'
import { useHome } from '@/stores/home'

const home = useHome()
const route = useRoute()
const router = useRouter()

type Only = 'all' | 'attention' | 'battery'
const search = computed({
  get: () => String(route.query.search ?? ''),
  set: (value: string) => void router.replace({ query: { ...route.query, search: value || undefined } }),
})
const only = computed({
  get: () => (String(route.query.only ?? '') || 'all') as Only,
  set: (value: Only) => void router.replace({ query: { ...route.query, only: value === 'all' ? undefined : value } }),
})

const attention = computed(() => attentionFirst(home.devices))
interface Row {
  id: string
  device: Device
  title: string
  room: string
  battery: number
  empty: number
  heard: string
  signal: number
  firmware: string
  added: string
  model: string
  attention: number
}
const rows = computed<Row[]>(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean)
  return home.devices
    .filter((d) => only.value !== 'attention' || needsAttention(d))
    .filter((d) => only.value !== 'battery' || d.care.battery !== undefined)
    .map((d) => ({
      id: d.id,
      device: d,
      title: d.title,
      room: home.roomTitle(d.room),
      battery: d.care.battery ?? 1000, // mains after all batteries
      empty: d.care.projection ? Date.parse(d.care.projection.emptyAt) : Number.MAX_SAFE_INTEGER,
      heard: heardAt(d),
      signal: d.care.signal ?? 1000, // wired after all radio
      firmware: d.care.firmware ?? '',
      added: d.care.addedAt ?? '',
      model: `${d.maker} ${d.model}`,
      attention: -(d.care.attention[0]?.urgency ?? 0),
    }))
    .filter((r) => {
      const text = `${r.title} ${r.room} ${r.model} ${r.device.note ?? ''} ${(r.device.labels ?? []).join(' ')}`
      return words.every((w) => text.toLowerCase().includes(w))
    })
})
/** Where something needs attention, all else is folded until it is asked for. */
const unfolded = ref(!attention.value.length || !!search.value || only.value !== 'all')
const picked = ref<Row[]>([])
const pickedDevices = computed(() => picked.value.flatMap((r) => home.device(r.id) ?? []))
</script>

<template>
  <EmptyPage v-if="!home.devices.length" title="Nothing to care for yet">
    <p>Once devices are in the home, their batteries and silences are watched here.</p>
  </EmptyPage>
  <div v-else class="page">
    <header class="head">
      <div>
        <h1>Care</h1>
        <p class="soft">
          {{
            attention.length
              ? `${attention.length} of ${home.devices.length} devices need attention.`
              : `All ${home.devices.length} devices are OK.`
          }}
        </p>
      </div>
      <a class="link" href="/api/care.csv" download="care.csv">As a table (CSV)</a>
    </header>

    <section v-if="attention.length" class="first">
      <h2>Needs attention</h2>
      <ul>
        <li v-for="d in attention" :key="d.id">
          <RouterLink class="link" :to="`/devices/${d.id}`">{{ d.title }}</RouterLink>
          <span class="soft">{{ home.roomTitle(d.room) }}</span>
          <div class="what">
            <template v-for="a in d.care.attention" :key="a.kind + a.property">
              <DifferenceSettle
                v-if="a.kind === 'differs' && a.property"
                :device="d.id"
                :property="a.property"
                :title="d.title"
                >{{ a.text }}</DifferenceSettle
              >
              <p v-else :class="{ now: a.urgency === 2 }">
                {{ a.text }} <span class="soft">{{ a.advice }}</span>
              </p>
            </template>
          </div>
        </li>
      </ul>
    </section>

    <section class="all">
      <button v-if="!unfolded" class="plain link" aria-expanded="false" @click="unfolded = true">
        Show all {{ home.devices.length }} devices
      </button>
      <div v-if="unfolded" class="tools">
        <h2>All devices</h2>
        <InputText v-model="search" size="small" placeholder="Search" aria-label="Search by name, room or model" />
        <Button
          size="small"
          :severity="only === 'attention' ? undefined : 'secondary'"
          :aria-pressed="only === 'attention'"
          label="Needs attention"
          @click="only = only === 'attention' ? 'all' : 'attention'"
        />
        <Button
          size="small"
          :severity="only === 'battery' ? undefined : 'secondary'"
          :aria-pressed="only === 'battery'"
          label="On battery"
          @click="only = only === 'battery' ? 'all' : 'battery'"
        />
      </div>
      <DevicesSelected
        v-if="unfolded && pickedDevices.length"
        class="picked"
        :devices="pickedDevices"
        @done="picked = []"
      />
      <DataTable
        v-if="unfolded"
        v-model:selection="picked"
        :value="rows"
        data-key="id"
        sort-field="attention"
        :sort-order="1"
        removable-sort
        size="small"
        scrollable
        :virtual-scroller-options="rows.length > 200 ? { itemSize: 44 } : undefined"
        :scroll-height="rows.length > 200 ? '560px' : undefined"
        :pt="{
          column: { pcRowCheckbox: { input: { 'aria-label': 'Choose this device' } } },
        }"
      >
        <Column selection-mode="multiple" header-style="width: 44px" />
        <Column field="title" header="Device" sortable>
          <template #body="{ data }">
            <RouterLink class="link" :to="`/devices/${data.id}`">{{ data.title }}</RouterLink>
            <p v-if="data.device.note" class="note soft" :title="data.device.note">{{ data.device.note }}</p>
          </template>
        </Column>
        <Column field="room" header="Room" sortable />
        <Column field="battery" header="Battery" sortable>
          <template #body="{ data }">
            <span v-if="data.device.care.battery !== undefined" class="battery">
              <meter
                :value="data.device.care.battery"
                min="0"
                max="100"
                low="10"
                :aria-label="`Battery of ${data.title}`"
              />
              <span class="mono">{{ Math.round(data.device.care.battery) }} %</span>
            </span>
            <span v-else class="soft">mains</span>
          </template>
        </Column>
        <Column field="empty" header="Empty" sortable>
          <template #body="{ data }">
            <span v-if="emptying(data.device, home.now)" :title="emptying(data.device, home.now)?.sure">{{
              emptying(data.device, home.now)?.text
            }}</span>
            <span v-else-if="data.device.care.battery !== undefined" class="soft">not known yet</span>
          </template>
        </Column>
        <Column field="heard" header="Last heard" sortable>
          <template #body="{ data }">{{ data.heard ? home.times.since(data.heard, home.now) : 'never' }}</template>
        </Column>
        <Column header="Reports">
          <template #body="{ data }"
            ><span class="soft">{{ rhythmWords(data.device) }}</span></template
          >
        </Column>
        <Column field="signal" header="Signal" sortable>
          <template #body="{ data }">
            <span
              v-if="data.device.care.signal !== undefined"
              class="mono"
              :class="{ now: data.device.care.attention.some((a: { kind: string }) => a.kind === 'weak') }"
              >{{ Math.round(data.signal) }} %</span
            >
          </template>
        </Column>
        <Column field="firmware" header="Firmware" sortable>
          <template #body="{ data }"
            ><span class="mono soft">{{ data.firmware }}</span></template
          >
        </Column>
        <Column field="added" header="In the home for" sortable>
          <template #body="{ data }"
            ><span class="soft" :title="data.added ? home.times.date(data.added) : ''">{{
              data.added ? age(data.added, home.now) : ''
            }}</span></template
          >
        </Column>
        <Column field="model" header="Model" sortable>
          <template #body="{ data }"
            ><span class="soft">{{ data.model }}</span></template
          >
        </Column>
        <Column field="attention" header="State" sortable>
          <template #body="{ data }">
            <span v-if="data.device.care.attention.length" class="now">{{
              {
                unreached: 'not reached',
                silent: 'silent',
                failed: 'failed',
                differs: 'differs',
                battery: 'battery',
                weak: 'weak signal',
              }[data.device.care.attention[0].kind as 'silent']
            }}</span>
            <span v-else class="soft">OK</span>
          </template>
        </Column>
        <template #empty>
          <p class="soft">
            No device matches. <button class="plain link" @click="router.replace({ query: {} })">Show all</button>
          </p>
        </template>
      </DataTable>
    </section>
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
  border-bottom: 1px solid var(--rule);
  padding-bottom: var(--space-14);
}
.first {
  margin-top: var(--space-20);
}
.first li {
  display: grid;
  grid-template-columns: minmax(140px, 200px) minmax(90px, 140px) minmax(0, 1fr);
  gap: var(--space-14);
  padding: var(--space-8) 0;
  border-top: 1px solid var(--rule);
}
@media (max-width: 720px) {
  .first li {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .first .what {
    grid-column: 1 / -1;
  }
}
.first ul {
  margin-top: var(--space-6);
}
.what p + p {
  margin-top: var(--space-4);
}
.now {
  color: var(--ember);
}
.all {
  margin-top: var(--space-26);
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
  margin-bottom: var(--space-10);
}
.tools h2 {
  margin-right: auto;
}
.picked {
  margin: var(--space-10) 0 var(--space-16);
}
.note {
  max-width: 190px;
  font-size: var(--type-note);
  line-height: 1.2;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.mono {
  white-space: nowrap;
}
.battery {
  display: flex;
  gap: var(--space-8);
  align-items: center;
}
meter {
  appearance: none;
  width: 46px;
  height: 8px;
  border: 1px solid var(--edge);
}
meter::-webkit-meter-bar {
  background: var(--sheet);
  border: 0;
  border-radius: 0;
  block-size: 100%;
}
meter::-webkit-meter-optimum-value {
  background: var(--ink-soft);
}
meter::-webkit-meter-suboptimum-value {
  background: var(--ember);
}
meter::-moz-meter-bar {
  background: var(--ink-soft);
}
</style>
