<script setup lang="ts">
import { api, ask } from '@/api/client'
import type { Mirror } from '@/api/types'
import DefinitionsPage from '@/components/documents/DefinitionsPage.vue'
import MirrorEditor from '@/components/link/MirrorEditor.vue'
import { useHome } from '@/stores/home'

/** Mirrors: devices that are kept at the same state, whichever of them is changed. */
const home = useHome()
const reason = (m: Mirror) =>
  m.problems[0]?.message ??
  (m.enabled ? m.members.map((x) => home.device(x.device)?.title ?? 'a removed device').join(' = ') : 'paused')
const mark = (m: Mirror) => {
  if (m.problems.length || m.agree.includes(false)) return 'failed'
  return m.works ? 'on' : 'off'
}
const create = async () =>
  (await ask(api.POST('/api/mirrors', { body: { title: 'New mirror', enabled: true, members: [] } }))).id
</script>

<template>
  <DefinitionsPage title="Mirrors" one="mirror" :items="home.mirrors" :mark="mark" :create="create">
    <template #empty>
      A mirror keeps two or more devices of any makers at the same state, such as a wall switch and a lamp: whichever is
      changed, the others follow.
    </template>
    <template #reason="{ item }">{{ reason(item) }}</template>
    <template #default="{ chosen }"><MirrorEditor :key="chosen.id" :mirror="chosen" /></template>
    <template #overview><p class="soft">Choose a mirror to see how its members stand.</p></template>
  </DefinitionsPage>
</template>
