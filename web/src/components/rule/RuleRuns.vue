<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Rule, RuleDocument, RuleRun } from '@/api/types'
import { duration } from '@/lib/format'
import { useReading } from '@/lib/reading'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import ErrorNote from '@/components/page/ErrorNote.vue'
import WhyNot from './WhyNot.vue'

/** What a rule did lately, what keeps it from acting, and how it once was. */
const props = defineProps<{ rule: Rule; opened: number | undefined; fresh: unknown }>()
const emit = defineEmits<{ open: [number]; take: [RuleDocument, number] }>()
const home = useHome()
const notices = useNotices()
const takeRevision = (revision: number) =>
  notices.attempt(async () => {
    const path = { id: props.rule.id, revision }
    emit('take', await ask(api.GET('/api/rules/{id}/revisions/{revision}', { params: { path } })), revision)
  })
const runs = ref<RuleRun[]>([])
const more = ref(false)
const PAGE = 40

type Part = 'runs' | 'why' | 'earlier'
const part = ref<Part>('runs')
const parts: { value: Part; title: string }[] = [
  { value: 'runs', title: 'Runs' },
  { value: 'why', title: 'Why not now?' },
  { value: 'earlier', title: 'Earlier' },
]

async function read(before?: number) {
  const id = props.rule.id
  const list = await ask(api.GET('/api/rules/{id}/runs', { params: { path: { id }, query: { before } } }))
  if (id !== props.rule.id) return
  runs.value = before ? [...runs.value, ...list] : list
  more.value = list.length >= PAGE
}
const { failed, again } = useReading(() => read())
const earlier = () => notices.attempt(() => read(runs.value.at(-1)?.id))
watch(() => [props.rule.id, props.fresh], again, { immediate: true })

const lasted = computed(() => {
  const { lastBegan, lastEnded } = props.rule.state
  if (!lastBegan || !lastEnded || lastEnded < lastBegan) return ''
  return duration((new Date(lastEnded).getTime() - new Date(lastBegan).getTime()) / 1000)
})
</script>

<template>
  <aside aria-label="What it did and why">
    <div class="parts" role="tablist">
      <button
        v-for="p in parts"
        :key="p.value"
        type="button"
        role="tab"
        class="plain"
        :aria-selected="part === p.value"
        @click="part = p.value"
      >
        {{ p.title }}
      </button>
    </div>
    <div v-if="part === 'runs'" role="tabpanel">
      <p class="soft small">
        {{ rule.state.runs ? `${rule.state.runs} in all` : 'It has not acted yet'
        }}<template v-if="rule.state.lastBegan"
          >, the last {{ home.times.since(rule.state.lastBegan, home.now) }}</template
        ><template v-if="lasted && rule.whenever">, for {{ lasted }}</template
        >.
      </p>
      <ol>
        <li v-for="r in runs" :key="r.id" :class="{ opened: opened === r.id }">
          <button
            type="button"
            class="plain when mono"
            :aria-label="`${home.times.since(r.at, home.now)}: show the run, ${r.text}`"
            @click="emit('open', r.id)"
          >
            {{ home.times.since(r.at, home.now) }}
          </button>
          <span :class="r.outcome">{{ r.text }}</span>
        </li>
      </ol>
      <ErrorNote v-if="failed" :reason="failed" @again="again" />
      <button v-else-if="more" type="button" class="plain link small" @click="earlier">Earlier runs</button>
    </div>
    <div v-else-if="part === 'why'" role="tabpanel">
      <WhyNot :rule="rule.id" :fresh="fresh" @run="emit('open', $event)" />
    </div>
    <div v-else role="tabpanel">
      <EarlierVersions
        :id="rule.id"
        kind="rule"
        :revision="rule.revision"
        verb="Take as draft"
        always
        @take="takeRevision"
      />
    </div>
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
  padding-top: var(--space-6);
}
.parts {
  display: flex;
  gap: var(--space-16);
  border-bottom: 1px solid var(--rule);
  margin-bottom: var(--space-8);
}
.parts button {
  padding: var(--space-4) 0;
  font-weight: 650;
  font-size: var(--type-small);
  color: var(--ink-soft);
  border-bottom: 3px solid transparent;
}
.parts [aria-selected='true'] {
  color: var(--ink);
  border-bottom-color: var(--verdigris);
}
ol {
  margin-top: var(--space-8);
}
li {
  display: grid;
  grid-template-columns: 84px 1fr;
  gap: var(--space-10);
  border-top: 1px solid var(--rule);
  padding: var(--space-6) 0;
  font-size: var(--type-small);
}
.opened {
  background: var(--verdigris-wash);
}
.when {
  font-size: var(--type-note);
  color: var(--verdigris);
  text-align: left;
}
.running {
  font-weight: 650;
}
.notStarted {
  color: var(--ochre);
}
.halted,
.cutOff {
  color: var(--ember);
}
.small {
  font-size: var(--type-small);
}
.uses {
  margin-top: var(--space-20);
}
</style>
