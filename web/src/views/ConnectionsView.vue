<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import BrokerJoin from '@/components/connection/BrokerJoin.vue'
import DirectoryJoin from '@/components/connection/DirectoryJoin.vue'
import ConnectionDetail from '@/components/connection/ConnectionDetail.vue'
import ListDetail from '@/components/page/ListDetail.vue'
import ListRow from '@/components/page/ListRow.vue'
import StateMark from '@/components/marks/StateMark.vue'
import { standing } from '@/lib/connections'
import { useHome } from '@/stores/home'
import ConnectionsOverview from '@/components/overview/ConnectionsOverview.vue'

/** All ways to devices, and how each stands. */
const home = useHome()
const route = useRoute()
const router = useRouter()
const chosen = computed(() => home.connections.find((c) => c.id === route.params.id))
</script>

<template>
  <ListDetail
    title="Connections"
    :note="`${home.connections.filter((c) => c.up).length} up`"
    :chosen="!!route.params.id"
    back="/connections"
  >
    <template #tools>
      <div class="tools">
        <Button
          severity="secondary"
          size="small"
          label="Join a broker elsewhere"
          @click="router.push('/connections/broker')"
        />
        <Button
          severity="secondary"
          size="small"
          label="Follow a directory"
          @click="router.push('/connections/directory')"
        />
      </div>
    </template>
    <template #list>
      <ListRow v-for="c in home.connections" :key="c.id" :to="`/connections/${c.id}`" :chosen="c.id === chosen?.id">
        <template #mark><StateMark :mark="c.up && !c.paused ? 'on' : 'silent'" /></template>
        {{ c.title }}
        <template #value>{{ c.perMinute }}<small class="soft"> /min</small></template>
        <template #reason>{{ standing(c, home.times, home.now) }}</template>
      </ListRow>
    </template>
    <BrokerJoin v-if="route.params.id === 'broker'" />
    <DirectoryJoin v-else-if="route.params.id === 'directory'" :address="String(route.query.address ?? '')" />
    <ConnectionDetail
      v-else-if="chosen"
      :key="chosen.id"
      :connection="chosen"
      :topic="String(route.query.topic ?? '')"
    />
    <p v-else-if="route.params.id" class="soft">This connection was removed.</p>
    <ConnectionsOverview v-else />
  </ListDetail>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  padding: 0 var(--space-16) var(--space-10);
}
</style>
