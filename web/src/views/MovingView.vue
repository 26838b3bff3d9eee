<script setup lang="ts">
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { Sequence } from '@/api/types'
import DefinitionsPage from '@/components/documents/DefinitionsPage.vue'
import MovingEditor from '@/components/light/MovingEditor.vue'
import MovingOverview from '@/components/overview/MovingOverview.vue'
import { effectTraits } from '@/lib/moving'
import { useHome } from '@/stores/home'

/** Light that moves by itself: drifting colors, candles, embers, a storm, a pulse, a sunrise. */
const home = useHome()
const all = computed(() => home.sequences.filter((s) => s.effect))
const reason = (s: Sequence) =>
  [
    effectTraits[s.effect!.kind].title,
    ...(s.effect!.lights ?? []).map((id) => home.lights.find((l) => l.id === id)?.title ?? 'a removed light'),
  ].join(' · ')
const create = async () => {
  const first = home.lights[0]
  const effect = { kind: 'drift' as const, lights: first ? [first.id] : undefined }
  const lamps = first ? undefined : home.devices.filter((d) => d.light).slice(0, 1)
  return (
    await ask(
      api.POST('/api/sequences', {
        body: {
          title: 'New moving light',
          passages: [],
          ending: 'letGo',
          effect: { ...effect, lamps: lamps?.map((d) => d.id) },
        },
      }),
    )
  ).id
}
</script>

<template>
  <DefinitionsPage
    title="Moving light"
    one="sequence"
    named="moving light"
    at="/moving"
    :items="all"
    :mark="(s: Sequence) => (s.state.running ? 'on' : 'off')"
    :create="create"
  >
    <template #empty>
      Colors that drift, candles, embers, a storm, a sunrise: started by a key, a rule, a schedule or a dashboard, and
      over at once when told so.
    </template>
    <template #value="{ item }">{{ item.state.running ? 'running' : '' }}</template>
    <template #reason="{ item }">{{ reason(item) }}</template>
    <template #default="{ chosen }"><MovingEditor :key="chosen.id" :sequence="chosen" /></template>
    <template #overview>
      <h2>What they are going to do</h2>
      <ul>
        <MovingOverview v-for="s in all" :key="s.id" :sequence="s" />
      </ul>
    </template>
  </DefinitionsPage>
</template>
