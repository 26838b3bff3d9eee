<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Profile } from '@/api/types'
import { useHome } from '@/stores/home'

/** What a profile says, in words: what its devices tell, what can be set, what can be had done, and which they are. */
const props = defineProps<{ profile: Profile }>()
const home = useHome()
const parts = computed(() =>
  (
    [
      ['told', 'It tells'],
      ['set', 'It can be set'],
      ['done', 'It does'],
    ] as const
  )
    .map(([kind, title]) => ({ title, offers: props.profile.offers.filter((o) => o.kind === kind) }))
    .filter((p) => p.offers.length),
)
const devices = computed(() => home.devices.filter((d) => d.model === props.profile.model))
</script>

<template>
  <div>
    <section v-for="p in parts" :key="p.title">
      <h2>{{ p.title }}</h2>
      <dl>
        <div v-for="o in p.offers" :key="o.title">
          <dt>{{ o.title }}</dt>
          <dd class="soft">
            {{ o.text }}<span v-if="o.help" class="help">{{ o.help }}</span>
          </dd>
        </div>
      </dl>
    </section>
    <section v-if="devices.length">
      <h2>In the home</h2>
      <ul>
        <li v-for="d in devices" :key="d.id">
          <RouterLink class="link" :to="`/devices/${d.id}`">{{ d.title }}</RouterLink>
          <span class="soft"> {{ home.roomTitle(d.room) }}</span>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
section + section {
  margin-top: var(--space-16);
}
dl > div {
  display: grid;
  grid-template-columns: minmax(110px, 40%) minmax(0, 1fr);
  gap: var(--space-12);
  border-top: 1px solid var(--rule);
  padding-block: var(--space-4);
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
.help {
  display: block;
  font-size: var(--type-small);
}
li .soft {
  margin-left: var(--space-8);
}
li {
  padding-block: var(--space-2);
}
</style>
