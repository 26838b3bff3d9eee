<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Entry, Rule } from '@/api/types'
import { duration } from '@/lib/format'
import { useHome } from '@/stores/home'

/** What a rule did last, and what kept it from acting. */
const props = defineProps<{ rule: Rule }>()
const home = useHome()
const entries = ref<Entry[]>([])
const SHOWN = 14

watch(
  () => [props.rule.id, props.rule.state.lastBegan, props.rule.state.lastEnded, props.rule.state.notStartedAt],
  async () => {
    const id = props.rule.id
    const list = await ask(api.GET('/api/journal', { params: { query: { rule: id, limit: 60 } } })).catch(() => [])
    if (id === props.rule.id) entries.value = list.filter((e) => e.kind !== 'waited').slice(0, SHOWN)
  },
  { immediate: true },
)

const words: Record<string, string> = {
  began: 'began to hold',
  ended: 'let go',
  ran: 'ran',
  runByHand: 'run by hand',
  stopped: 'stopped',
  defined: 'changed',
}
const said = (e: Entry) =>
  e.kind === 'notStarted'
    ? e.text.replace(`Rule ${e.subject} did not start: `, 'not started: ')
    : (words[e.kind] ?? e.text)
const lasted = computed(() => {
  const { lastBegan, lastEnded } = props.rule.state
  if (!lastBegan || !lastEnded || lastEnded < lastBegan) return ''
  return duration((new Date(lastEnded).getTime() - new Date(lastBegan).getTime()) / 1000)
})
</script>

<template>
  <aside>
    <h2>Runs</h2>
    <p class="soft small">
      {{ rule.state.runs ? `${rule.state.runs} in all` : 'It has not acted yet'
      }}<template v-if="rule.state.lastBegan"
        >, the last {{ home.times.since(rule.state.lastBegan, home.now) }}</template
      ><template v-if="lasted && rule.whenever">, for {{ lasted }}</template
      >.
    </p>
    <ol>
      <li v-for="e in entries" :key="e.id">
        <RouterLink class="mono when" :to="{ path: '/journal', query: { entry: e.id } }">{{
          home.times.since(e.at, home.now)
        }}</RouterLink>
        <span :class="e.kind">{{ said(e) }}</span>
      </li>
    </ol>
    <template v-if="rule.usedBy.length">
      <h2 class="uses">Used by</h2>
      <p v-for="u in rule.usedBy" :key="u.id" class="small">
        {{ u.title }} <span class="soft">{{ u.kind }}</span>
      </p>
    </template>
  </aside>
</template>

<style scoped>
aside {
  padding-top: 6px;
}
ol {
  margin-top: 8px;
}
li {
  display: grid;
  grid-template-columns: 84px 1fr;
  gap: 10px;
  border-top: 1px solid var(--rule);
  padding: 6px 0;
  font-size: 13.5px;
}
.when {
  font-size: 12.5px;
  color: var(--ink-soft);
}
.began,
.ran {
  font-weight: 650;
}
.notStarted {
  color: var(--ochre);
}
.stopped {
  color: var(--ember);
}
.small {
  font-size: 13.5px;
}
.uses {
  margin-top: 20px;
}
</style>
