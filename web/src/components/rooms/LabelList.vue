<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import CommitInput from '@/components/inputs/CommitInput.vue'

/** All labels that devices carry: renamed and taken off everywhere at once. */
const home = useHome()
const notices = useNotices()

const labels = computed(() => {
  const count = new Map<string, number>()
  for (const d of home.devices) for (const l of d.labels ?? []) count.set(l, (count.get(l) ?? 0) + 1)
  return [...count].sort(([a], [b]) => a.localeCompare(b)).map(([title, devices]) => ({ title, devices }))
})

/** Changes a label on all devices that carry it; without a new one it is taken off. */
const change = (label: string, to: string, said: string) =>
  notices.attempt(async () => {
    const carriers = home.devices.filter((d) => d.labels?.includes(label))
    const before = carriers.map((d) => ({ id: d.id, labels: d.labels ?? [] }))
    const after = before.map((d) => ({
      id: d.id,
      labels: [...new Set(d.labels.map((l) => (l === label ? to : l)).filter(Boolean))],
    }))
    await ask(api.PATCH('/api/devices', { body: after }))
    notices.done(said, () => ask(api.PATCH('/api/devices', { body: before })))
  })
</script>

<template>
  <ul v-if="labels.length">
    <li v-for="l in labels" :key="l.title">
      <CommitInput
        :value="l.title"
        :aria-label="`Label ${l.title}`"
        maxlength="40"
        @commit="$event.trim() && change(l.title, $event.trim(), `${l.title} is now ${$event.trim()}.`)"
      />
      <RouterLink class="link soft" :to="{ path: '/devices', query: { by: 'label', search: l.title } }"
        ><span class="mono">{{ l.devices }}</span> {{ l.devices === 1 ? 'device' : 'devices' }}</RouterLink
      >
      <button
        class="plain link"
        :aria-label="`Remove from all: ${l.title}`"
        @click="change(l.title, '', `${l.title} was taken off ${l.devices} devices.`)"
      >
        Remove from all
      </button>
    </li>
  </ul>
  <p v-else class="soft">
    Labels cut across rooms: what runs on batteries, what guests may use. Give them to devices under
    <RouterLink class="link" to="/devices">Devices</RouterLink>, one by one or to several at once.
  </p>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 100px 100px;
  gap: var(--space-10);
  align-items: center;
  padding: var(--space-4) 0;
  border-top: 1px solid var(--rule);
}
</style>
