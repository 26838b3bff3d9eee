<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { Removed } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** What was removed last, each brought back by one click: also long after its undo is gone. */
const home = useHome()
const notices = useNotices()
const SHOWN_FIRST = 10
const removed = ref<Removed[]>()
const all = ref(false)

const words: Record<string, string> = {
  connection: 'connection',
  device: 'device',
  room: 'room',
  group: 'group',
  scene: 'scene',
  sequence: 'sequence',
  link: 'link',
  mirror: 'mirror',
  light: 'light of a room',
  curve: 'day curve',
  rule: 'rule',
  schedule: 'schedule',
  dashboard: 'dashboard',
  variable: 'variable',
  person: 'person',
  calendar: 'calendar',
  profile: 'profile',
  thing: 'description of a device',
}
const read = async () => void (removed.value = await ask(api.GET('/api/removed')))
onMounted(() => notices.attempt(read))

const back = (r: Removed) =>
  notices.attempt(async () => {
    await ask(
      api.POST('/api/definitions/{kind}/{id}/restore', { params: { path: { kind: r.kind as string, id: r.id } } }),
    )
    notices.done(`${r.title || r.id} is back.`)
    await read()
  })
</script>

<template>
  <section>
    <p v-if="removed && !removed.length" class="soft small">Nothing was removed.</p>
    <ul v-else-if="removed">
      <li v-for="r in all ? removed : removed.slice(0, SHOWN_FIRST)" :key="`${r.kind}/${r.id}`">
        <span class="name"
          ><b>{{ r.title || r.id }}</b> <span class="soft small">{{ words[r.kind] ?? r.kind }}</span></span
        >
        <span class="mono soft small">{{ home.times.since(r.at, home.now) }}</span>
        <button class="plain link" :aria-label="`Bring back ${r.title || r.id}`" @click="back(r)">Bring it back</button>
      </li>
    </ul>
    <button v-if="removed && removed.length > SHOWN_FIRST && !all" class="plain link small" @click="all = true">
      Show all {{ removed.length }}
    </button>
  </section>
</template>

<style scoped>
ul {
  margin-top: var(--space-8);
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-14);
  align-items: baseline;
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
}
.name {
  flex: 1;
  min-width: 160px;
  overflow-wrap: anywhere;
}
.small {
  font-size: var(--type-small);
}
</style>
