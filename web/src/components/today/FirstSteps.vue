<script setup lang="ts">
import { IconCheck } from '@tabler/icons-vue'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { useHome } from '@/stores/home'

/** The first steps of the work in a new home, each done or not. */
const home = useHome()

const steps = computed(() => [
  {
    title: 'Say where the house is',
    help: 'Its place gives sunrise and sunset, its time zone the times of day.',
    to: '/house',
    done: (home.house?.revision ?? 0) > 1,
  },
  {
    title: 'Name its rooms',
    help: 'Devices are found by their rooms, and a room can be switched as one.',
    to: '/rooms',
    done: home.rooms.length > 0,
  },
  {
    title: 'Take in devices',
    help: home.newcomers
      ? `${home.newcomers === 1 ? '1 is' : `${home.newcomers} are`} found already. Bridges and gateways are connected there, too.`
      : 'Those that announce themselves are listed, bridges and gateways are connected there.',
    to: '/found',
    done: home.devices.length > 0,
  },
  {
    title: 'Write the first rule',
    help: 'It reads as a sentence. It can be tried, pretended and rehearsed before it counts.',
    to: '/rules?new=1',
    done: home.rules.length > 0,
  },
  {
    title: 'Lay out a dashboard',
    help: 'For a tablet on the wall or the household’s phones.',
    to: '/dashboards',
    done: home.dashboards.length > 0,
  },
])
const next = computed(() => steps.value.find((s) => !s.done))
</script>

<template>
  <section aria-labelledby="first-steps" class="steps">
    <h1 id="first-steps">First steps</h1>
    <p class="soft lead">
      Amvek lets the devices of many makers act together, on your own machine, and always says why something is as it
      is.
    </p>
    <ol>
      <li v-for="(s, i) in steps" :key="s.to" :class="{ done: s.done, next: s === next }">
        <span class="mark" aria-hidden="true">
          <IconCheck v-if="s.done" :size="16" stroke="2.4" />
          <span v-else class="mono">{{ i + 1 }}</span>
        </span>
        <span>
          <RouterLink :to="s.to" class="name">{{ s.title }}</RouterLink>{{ ' '
          }}<span v-if="s.done" class="soft"> · done</span>
          <span class="soft help">{{ s.help }}</span>
        </span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.steps {
  max-width: 640px;
  margin-bottom: var(--space-34);
}
.lead {
  margin: var(--space-6) 0 var(--space-16);
}
li {
  display: grid;
  grid-template-columns: 32px minmax(0, 1fr);
  padding: var(--space-10) 0;
  border-top: 1px solid var(--rule);
}
.mark {
  color: var(--verdigris);
  padding-top: var(--space-2);
}
.name {
  color: var(--ink);
  font-weight: 600;
}
.next .name {
  color: var(--verdigris);
}
.done .name {
  font-weight: 400;
}
.help {
  display: block;
  font-size: var(--type-small);
}
</style>
