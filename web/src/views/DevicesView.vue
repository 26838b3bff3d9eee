<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import type { Device, PropertyState } from '@/api/types'
import DeviceDetail from '@/components/DeviceDetail.vue'
import EmptyPage from '@/components/EmptyPage.vue'
import ListDetail from '@/components/ListDetail.vue'
import ListRow from '@/components/ListRow.vue'
import ReasonLine from '@/components/ReasonLine.vue'
import StateMark from '@/components/StateMark.vue'
import { mainState } from '@/lib/devices'
import { useHome } from '@/stores/home'

const home = useHome()
const route = useRoute()
const router = useRouter()

const search = computed({
  get: () => String(route.query.search ?? ''),
  set: (search: string) => void router.replace({ query: search ? { ...route.query, search } : {} }),
})
const chosen = computed(() => home.device(String(route.params.id ?? '')))
const kept = computed(() => (search.value ? `?search=${encodeURIComponent(search.value)}` : ''))

const groups = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean)
  const matches = (d: Device) => {
    const text = `${d.title} ${home.roomTitle(d.room)} ${d.maker} ${d.model} ${d.note ?? ''}`.toLowerCase()
    return words.every((w) => text.includes(w))
  }
  const rooms = [...home.rooms.map((r) => ({ id: r.id, title: r.title })), { id: '', title: 'No room yet' }]
  return rooms
    .map((r) => ({ ...r, devices: home.devices.filter((d) => (d.room ?? '') === r.id && matches(d)) }))
    .filter((g) => g.devices.length)
})

function shown(d: Device): PropertyState | undefined {
  return mainState(d)
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
  <ListDetail v-else title="Devices" :note="`${home.devices.length} in ${home.rooms.length} rooms`">
    <template #tools>
      <div class="search">
        <InputText v-model="search" fluid placeholder="Search by name, room, maker" aria-label="Search devices" />
      </div>
    </template>
    <template #list>
      <div v-for="g in groups" :key="g.id">
        <h2 class="group">{{ g.title }}</h2>
        <ListRow v-for="d in g.devices" :key="d.id" :to="`/devices/${d.id}${kept}`" :chosen="d.id === chosen?.id">
          <template #mark><StateMark :state="shown(d)" :silent="d.silent" /></template>
          {{ d.title }}
          <template #value>
            <small v-if="shown(d)?.name === 'battery'" class="soft">battery </small>{{ shown(d)?.text }}
          </template>
          <template #reason>
            <template v-if="d.silent">Its connection is down</template>
            <ReasonLine v-else-if="shown(d)?.holders.length" :state="shown(d)!" />
            <template v-else-if="shown(d)?.changedAt"
              >since {{ home.times.since(shown(d)!.changedAt!, home.now) }}</template
            >
          </template>
        </ListRow>
      </div>
      <p v-if="!groups.length" class="soft none">
        No device matches “{{ search }}”. <button class="plain link" @click="search = ''">Show all</button>
      </p>
    </template>
    <DeviceDetail v-if="chosen" :key="chosen.id" :device="chosen" />
    <p v-else-if="route.params.id" class="soft">
      This device is no longer in the home. <RouterLink class="link" to="/found">It may be under Found.</RouterLink>
    </p>
    <p v-else class="soft">Choose a device to see what holds it and why.</p>
  </ListDetail>
</template>

<style scoped>
.search {
  padding: 0 18px 8px;
}
.group {
  padding: 14px 18px 6px;
}
.none {
  padding: 18px;
}
</style>
