<script setup lang="ts">
import { api, ask } from '@/api/client'
import type { Connection } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import StateMark from './StateMark.vue'

const home = useHome()
const notices = useNotices()

const remove = (c: Connection) =>
  notices.attempt(async () => {
    await ask(api.DELETE('/api/connections/{id}', { params: { path: { id: c.id } } }))
    notices.done(`${c.title} is no longer connected; its key was deleted.`)
  })
</script>

<template>
  <section>
    <h2>Connections</h2>
    <ul>
      <li v-for="c in home.connections" :key="c.id">
        <div class="row">
          <StateMark :mark="c.up ? 'on' : 'silent'" />
          <b>{{ c.title }}</b>
          <button v-if="c.kind !== 'radioGateways'" class="plain link small" @click="remove(c)">Remove</button>
        </div>
        <p class="soft small">
          <template v-if="c.up && c.since">up since {{ home.times.since(c.since, home.now) }}</template>
          <template v-else-if="c.since">down since {{ home.times.since(c.since, home.now) }}</template>
          <template v-else>nothing has joined yet</template>
          <template v-if="c.address">
            · <span class="mono">{{ c.address }}</span></template
          >
        </p>
        <p v-if="c.reason" class="wrong small">{{ c.reason }}</p>
        <p v-if="c.faults" class="soft small">
          {{ c.faults }} {{ c.faults === 1 ? 'message' : 'messages' }} refused, the last: {{ c.lastFault }}
        </p>
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  border-top: 1px solid var(--rule);
  padding: 9px 0;
}
ul {
  margin-top: 8px;
}
.row {
  display: flex;
  gap: 9px;
  align-items: center;
}
.row b {
  flex: 1;
  font-weight: 600;
}
.small {
  font-size: 13px;
  overflow-wrap: anywhere;
}
.wrong {
  color: var(--ember);
}
</style>
