<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import type { Device } from '@/api/types'
import DeviceDetail from '@/components/device/DeviceDetail.vue'
import DeviceRow from '@/components/device/DeviceRow.vue'
import DevicesSelected from '@/components/device/DevicesSelected.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import DeviceLamp from '@/instruments/DeviceLamp.vue'
import ListDetail from '@/components/page/ListDetail.vue'
import LongList from '@/components/page/LongList.vue'
import { groupDevices, type Grouping, groupings, sortDevices, type Sorting, sortings } from '@/lib/devices'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'
import DevicesOverview from '@/components/overview/DevicesOverview.vue'

const home = useHome()
const session = useSession()
const route = useRoute()
const router = useRouter()

function query<T extends string>(name: string, otherwise: T) {
  return computed<T>({
    get: () => (String(route.query[name] ?? '') || otherwise) as T,
    set: (value) =>
      void router.replace({ query: { ...route.query, [name]: value && value !== otherwise ? value : undefined } }),
  })
}
// What is looked at is in the address.
const search = query('search', '')
const by = query<Grouping>('by', 'room')
const sort = query<Sorting>('sort', 'name')
const only = query<'all' | 'silent'>('only', 'all')
const kept = computed(() => {
  const words = new URLSearchParams()
  for (const [name, value] of Object.entries(route.query)) if (value) words.set(name, String(value))
  return words.size ? `?${words}` : ''
})
const chosen = computed(() => home.device(String(route.params.id ?? '')))

const connectionTitle = (d: Device) => home.connections.find((c) => c.id === d.connection)?.title ?? ''
// Sorted and made searchable once, not with every letter that is typed.
const sorted = computed(() => sortDevices(home.devices, sort.value))
const texts = computed(
  () =>
    new Map(
      sorted.value.map((d) => [
        d.id,
        `${d.title} ${home.roomTitle(d.room)} ${d.maker} ${d.model} ${connectionTitle(d)} ${(d.labels ?? []).join(' ')} ${d.note ?? ''}`.toLowerCase(),
      ]),
    ),
)
const groups = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean)
  const matches = (d: Device) =>
    (only.value !== 'silent' || d.silent) && words.every((w) => texts.value.get(d.id)?.includes(w))
  return groupDevices(sorted.value.filter(matches), by.value, home.rooms, connectionTitle)
})
const shown = computed(() => groups.value.reduce((n, g) => n + g.devices.length, 0))
/** Headings and devices in one list. */
const flat = computed(() =>
  groups.value.flatMap((g) => [
    { heading: g.title, device: undefined },
    ...g.devices.map((device) => ({ heading: '', device })),
  ]),
)

const several = ref(false)
const picked = ref(new Set<string>())
const pickedDevices = computed(() => home.devices.filter((d) => picked.value.has(d.id)))
function pick(id: string, on: boolean) {
  const next = new Set(picked.value)
  if (on) next.add(id)
  else next.delete(id)
  picked.value = next
}
function pickShown() {
  picked.value = new Set(groups.value.flatMap((g) => g.devices.map((d) => d.id)))
}
function stop() {
  picked.value = new Set()
  several.value = false
}
</script>

<template>
  <EmptyPage v-if="!home.devices.length" title="No devices yet">
    <p>Devices that announce themselves, and bridges to pair with, are listed under Found. Begin there.</p>
    <Button
      as="router-link"
      to="/found"
      :label="home.newcomers ? `See the ${home.newcomers} found` : 'Look for devices'"
    />
  </EmptyPage>
  <ListDetail
    v-else
    title="Devices"
    :note="`${shown} of ${home.devices.length}`"
    :chosen="!!route.params.id || (several && pickedDevices.length > 0)"
    :back="`/devices${kept}`"
  >
    <template #tools>
      <div class="tools">
        <InputText v-model="search" fluid placeholder="Search by name, room, maker" aria-label="Search devices" />
        <div class="filters">
          <Select
            v-model="by"
            size="small"
            :options="groupings"
            option-label="title"
            option-value="value"
            aria-label="Group devices by"
          />
          <Select
            v-model="sort"
            size="small"
            :options="sortings"
            option-label="title"
            option-value="value"
            aria-label="Sort devices"
          />
          <Button
            size="small"
            :severity="only === 'silent' ? undefined : 'secondary'"
            label="Not heard from"
            :aria-pressed="only === 'silent'"
            @click="only = only === 'silent' ? 'all' : 'silent'"
          />
          <Button
            v-if="session.setsUp"
            size="small"
            :severity="several ? undefined : 'secondary'"
            label="Select several"
            :aria-pressed="several"
            @click="several ? stop() : (several = true)"
          />
          <button v-if="several" class="plain link small" @click="pickShown">all {{ shown }}</button>
        </div>
      </div>
    </template>
    <template #list>
      <LongList v-slot="{ item, long }" :items="flat" :item-key="(row) => row.device?.id ?? row.heading">
        <h2 v-if="!item.device" class="group" :class="{ long }">{{ item.heading }}</h2>
        <div v-else class="line" :class="{ long }">
          <Checkbox
            v-if="several"
            :model-value="picked.has(item.device.id)"
            binary
            :aria-label="`Choose ${item.device.title}`"
            @update:model-value="pick(item.device.id, $event)"
          />
          <DeviceRow
            :device="item.device"
            :to="`/devices/${item.device.id}${kept}`"
            :chosen="item.device.id === chosen?.id"
          />
          <DeviceLamp v-if="item.device.light" class="lamp" :class="{ shifted: several }" :device="item.device" />
        </div>
      </LongList>
      <p v-if="!groups.length" class="soft none">
        No device matches. <button class="plain link" @click="router.replace({ query: {} })">Show all</button>
      </p>
    </template>
    <DevicesSelected v-if="several && pickedDevices.length" :devices="pickedDevices" @done="stop" />
    <DeviceDetail v-else-if="chosen" :key="chosen.id" :device="chosen" />
    <p v-else-if="route.params.id" class="soft">
      This device is no longer in the home. <RouterLink class="link" to="/found">It may be under Found.</RouterLink>
    </p>
    <DevicesOverview v-else />
  </ListDetail>
</template>

<style scoped>
.tools {
  padding: 0 var(--space-16) var(--space-8);
}
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6);
  align-items: center;
  margin-top: var(--space-8);
}
.filters > :deep(.p-select) {
  flex: 1 1 130px;
}
.small {
  font-size: var(--type-small);
}
.group {
  padding: var(--space-14) var(--space-16) var(--space-6);
}
.line {
  position: relative;
  display: flex;
  align-items: center;
  padding-left: 0;
}
.line > :deep(a) {
  flex: 1;
  min-width: 0;
}
.line > :deep(.p-checkbox) {
  margin-left: var(--space-14);
}
.line.long {
  height: 100%;
}
.lamp {
  position: absolute;
  left: 7px;
  top: 9px;
}
.shifted {
  left: 43px;
}
.group.long {
  padding-top: var(--space-26);
}
.none {
  padding: var(--space-16);
}
</style>
