<script setup lang="ts">
import { computed } from 'vue'
import DemoTour from '@/components/today/DemoTour.vue'
import FirstSteps from '@/components/today/FirstSteps.vue'
import HouseTable from '@/components/today/HouseTable.vue'
import NeedsYou from '@/components/today/NeedsYou.vue'
import NextUp from '@/components/today/NextUp.vue'
import SinceHere from '@/components/today/SinceHere.vue'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'

/** Where one arrives: the house now, what comes next, and for an owner what needs somebody and what happened. */
const home = useHome()
const session = useSession()
const begun = computed(() => home.rooms.length && home.devices.length && home.rules.length && home.dashboards.length)
</script>

<template>
  <div class="today" :class="{ alone: !home.devices.length }">
    <div class="house">
      <template v-if="session.setsUp">
        <FirstSteps v-if="!begun" />
        <DemoTour v-else-if="home.about?.bench" />
      </template>
      <HouseTable v-if="home.devices.length" />
    </div>
    <aside v-if="home.devices.length" class="beside" aria-label="What is going on">
      <template v-if="session.setsUp">
        <NeedsYou />
        <SinceHere />
      </template>
      <NextUp />
    </aside>
  </div>
</template>

<style scoped>
.today {
  height: 100%;
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(320px, 27vw);
}
.alone {
  grid-template-columns: minmax(0, 1fr);
}
.house {
  overflow-y: auto;
  padding: var(--space-16) var(--space-26) var(--space-44);
}
.beside {
  overflow-y: auto;
  border-left: 1px solid var(--rule);
  background: var(--sheet);
  padding: var(--space-16) var(--space-20) var(--space-44);
  display: grid;
  gap: var(--space-20);
  align-content: start;
}
@media (max-width: 1000px) {
  .today {
    display: block;
    overflow-y: auto;
  }
  .house,
  .beside {
    overflow: visible;
  }
  .beside {
    border-left: 0;
    border-top: 1px solid var(--rule);
  }
}
@media (max-width: 720px) {
  .house,
  .beside {
    padding-inline: var(--space-14);
  }
}
</style>
