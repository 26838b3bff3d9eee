<script setup lang="ts">
import Button from 'primevue/button'
import MultiSelect from 'primevue/multiselect'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { BrowserSession, Person } from '@/api/types'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import CommitInput from '@/components/inputs/CommitInput.vue'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import { useSession } from '@/stores/session'
import PictureCode from './PictureCode.vue'
import { COLORS, ROLES } from './roles'

/** Somebody who is let in. */
const props = defineProps<{ person: Person; mine: boolean; sessions: BrowserSession[]; hasPassword: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const home = useHome()
const session = useSession()
const notices = useNotices()
const { change, remove } = useChanges('person')

const HOUR = 3_600_000
const FOREVER = 'for good'
/** For how long a guest is let in, from now on. */
const terms = [
  { title: 'for an hour', ms: HOUR },
  { title: 'for a day', ms: 24 * HOUR },
  { title: 'for a week', ms: 7 * 24 * HOUR },
  { title: 'for four weeks', ms: 28 * 24 * HOUR },
]
const over = computed(() => !!props.person.until && new Date(props.person.until).getTime() <= home.now)
const term = computed(() => {
  if (!props.person.until) return FOREVER
  return `${over.value ? 'was in until' : 'until'} ${home.times.day(props.person.until)} ${home.times.clock(props.person.until)}`
})
const choices = computed(() => [...new Set([term.value, ...terms.map((t) => t.title), FOREVER])])
function lasts(title: string) {
  const chosen = terms.find((t) => t.title === title)
  if (chosen) void change(props.person, { until: new Date(home.now + chosen.ms).toISOString() })
  else if (title === FOREVER) void change(props.person, { until: undefined })
}
const may = computed(() => ROLES.find((r) => r.value === props.person.role)?.may)
/** A guest is no longer one until a time, nor of some dashboards, as something else. */
const becomes = (role: Person['role']) =>
  change(props.person, role === 'guest' ? { role } : { role, until: undefined, dashboards: undefined })

const showing = ref(false)
const end = (s: BrowserSession) =>
  notices.attempt(async () => {
    await ask(api.DELETE('/api/sessions/{id}', { params: { path: { id: s.id } } }))
    emit('changed')
  })
async function endAll() {
  for (const s of props.sessions) if (s.id !== session.view?.session) await end(s)
}
</script>

<template>
  <article :aria-label="person.title" :style="{ '--mark': `var(--${person.color || 'ink-soft'})` }">
    <div class="top">
      <span class="mark" aria-hidden="true" />
      <CommitInput
        class="name"
        :value="person.title"
        :aria-label="`Name of ${person.title}`"
        maxlength="60"
        @commit="$event.trim() && change(person, { title: $event.trim() })"
      />
      <span v-if="mine" class="soft">you</span>
      <Select
        :model-value="person.role"
        :options="ROLES"
        option-value="value"
        option-label="title"
        :aria-label="`Role of ${person.title}`"
        @update:model-value="becomes"
      />
      <Select
        :model-value="person.color || undefined"
        :options="COLORS"
        option-value="value"
        option-label="title"
        placeholder="no color"
        :aria-label="`Color of ${person.title}`"
        @update:model-value="change(person, { color: $event })"
      />
      <button
        class="plain soft"
        :aria-label="`Remove ${person.title}`"
        @click="remove(person, `${person.title} is out.`)"
      >
        ×
      </button>
    </div>
    <p class="soft may">{{ person.title }} {{ may }}.</p>
    <div v-if="person.role === 'guest'" class="row">
      <MultiSelect
        :model-value="person.dashboards ?? []"
        :options="home.dashboards"
        option-value="id"
        option-label="title"
        display="chip"
        placeholder="Choose dashboards"
        empty-message="There is no dashboard yet"
        :aria-label="`Dashboards of ${person.title}`"
        @update:model-value="change(person, { dashboards: $event })"
      />
      <Select
        :model-value="term"
        :options="choices"
        :class="{ over }"
        :aria-label="`How long ${person.title} is let in`"
        @update:model-value="lasts"
      />
    </div>
    <ul v-if="sessions.length" :aria-label="`Where ${person.title} is in`">
      <li v-for="s in sessions" :key="s.id">
        <span>{{ s.device }}</span>
        <span class="soft mono">{{ s.address }}</span>
        <span class="soft">used {{ home.times.since(s.used, home.now) }}</span>
        <span v-if="s.id === session.view?.session" class="soft">this browser</span>
        <button v-else class="plain link" :aria-label="`End ${s.device} of ${person.title}`" @click="end(s)">
          End
        </button>
      </li>
    </ul>
    <p v-else class="soft may">
      No browser is in as {{ person.title }}.<template v-if="!hasPassword"> There is no password yet.</template>
    </p>
    <div class="row">
      <Button
        size="small"
        label="Let a phone or tablet in"
        severity="secondary"
        :disabled="over"
        @click="showing = true"
      />
      <Button
        v-if="!mine"
        size="small"
        :label="`Look as ${person.title}`"
        severity="secondary"
        :disabled="over"
        @click="notices.attempt(() => session.lookAs(person.id))"
      />
      <Button v-if="sessions.length > 1" size="small" label="End all" severity="secondary" @click="endAll" />
    </div>
    <PictureCode v-if="showing" :person="person" @close="((showing = false), emit('changed'))" />
    <EarlierVersions :id="person.id" kind="person" :revision="person.revision" />
  </article>
</template>

<style scoped>
article {
  border-top: 1px solid var(--rule);
  padding: var(--space-12) 0 var(--space-16);
  max-width: 860px;
}
.top,
.row,
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8) var(--space-12);
  align-items: center;
}
.row {
  margin-top: var(--space-10);
}
.mark {
  width: 12px;
  height: 12px;
  flex: none;
  background: var(--mark);
}
.name {
  flex: 1 1 160px;
  min-width: 0;
  font-weight: 650;
}
.may {
  margin: var(--space-6) 0 0;
}
ul {
  margin: var(--space-8) 0 0;
  padding: 0;
  list-style: none;
}
li {
  min-height: 32px;
}
.over {
  color: var(--ember);
}
</style>
