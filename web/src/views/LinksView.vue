<script setup lang="ts">
import { api, ask } from '@/api/client'
import type { Link } from '@/api/types'
import DefinitionsPage from '@/components/documents/DefinitionsPage.vue'
import LinkEditor from '@/components/link/LinkEditor.vue'
import { newLink, stands } from '@/lib/stages'
import { useHome } from '@/stores/home'

/** Links: what one device says, carried on to others. */
const home = useHome()
const names = (ids: { device: string }[]) =>
  [...new Set(ids.map((x) => home.device(x.device)?.title ?? 'a removed device'))].join(', ')
const reason = (l: Link) =>
  l.problems[0]?.message ?? (l.enabled ? `${names(l.sources)} → ${names(l.targets)}` : 'paused')
const create = async () => (await ask(api.POST('/api/links', { body: newLink() }))).id
</script>

<template>
  <DefinitionsPage title="Links" one="link" :items="home.links" :mark="stands" :create="create">
    <template #empty>
      A link carries on what one device says to others, of any maker: a dial dims lamps, a sensor moves a shutter. You
      see what goes through it as it goes.
    </template>
    <template #reason="{ item }">{{ reason(item) }}</template>
    <template #default="{ chosen }"><LinkEditor :key="chosen.id" :link="chosen" /></template>
    <template #overview><p class="soft">Choose a link to see what goes through it.</p></template>
  </DefinitionsPage>
</template>
