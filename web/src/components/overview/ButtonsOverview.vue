<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Device } from '@/api/types'
import { keysOf, startsBy } from '@/lib/keys'
import { useLooking } from '@/lib/looking'
import { useHome } from '@/stores/home'

/** What was pressed last anywhere, and which keys do nothing yet. */
const props = defineProps<{ devices: Device[] }>()
const home = useHome()
useLooking('journal')
const LAST = 12
const ids = computed(() => new Set(props.devices.map((d) => d.id)))
const pressed = computed(() =>
  home.entries.filter((e) => e.kind === 'happened' && ids.value.has(e.device ?? '')).slice(0, LAST),
)
const idle = computed(() =>
  props.devices.flatMap((d) => {
    const keys = keysOf(d).filter((k) => !home.rules.some((r) => r.enabled && startsBy(r, d.id, k.name)))
    return keys.length ? [{ device: d, keys: keys.map((k) => k.title).join(', ') }] : []
  }),
)
</script>

<template>
  <section aria-label="Pressed last">
    <h2>Pressed last</h2>
    <p v-if="!pressed.length" class="soft">Nothing was pressed lately.</p>
    <ul v-else>
      <li v-for="e in pressed" :key="e.id">
        <span class="mono soft">{{ home.times.since(e.at, home.now) }}</span>
        <RouterLink class="named" :to="`/buttons/${e.device}`">{{ e.text }}</RouterLink>
      </li>
    </ul>
  </section>
  <section v-if="idle.length" aria-label="Keys that do nothing yet">
    <h2>Keys that do nothing yet</h2>
    <ul>
      <li v-for="i in idle" :key="i.device.id">
        <RouterLink class="named" :to="`/buttons/${i.device.id}`">{{ i.device.title }}</RouterLink>
        <span class="soft">{{ i.keys }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
section + section {
  margin-top: var(--space-26);
}
ul {
  margin: var(--space-8) 0 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--ink);
}
li {
  display: grid;
  grid-template-columns: minmax(120px, 220px) minmax(0, 1fr);
  gap: var(--space-14);
  align-items: center;
  min-height: var(--touch);
  border-bottom: 1px solid var(--rule);
}
</style>
