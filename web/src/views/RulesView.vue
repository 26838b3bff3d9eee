<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Rule } from '@/api/types'
import EmptyPage from '@/components/page/EmptyPage.vue'
import ListDetail from '@/components/page/ListDetail.vue'
import LongList from '@/components/page/LongList.vue'
import ListRow from '@/components/page/ListRow.vue'
import StateMark from '@/components/marks/StateMark.vue'
import StartingPoints from '@/components/rule/StartingPoints.vue'
import RuleEditor from '@/components/rule/RuleEditor.vue'
import { FILLING } from '@/lib/filling'
import { broken, unfinished } from '@/lib/ruleStanding'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import RulesOverview from '@/components/overview/RulesOverview.vue'

const home = useHome()
const notices = useNotices()
const route = useRoute()
const router = useRouter()
const search = ref('')

const chosen = computed(() => home.rule(String(route.params.id ?? '')))
// By the name at once, and by all that a rule speaks of once the hub has answered.
const found = ref<Record<string, string[]>>({})
watch(search, () => (found.value = {}))
watchDebounced(
  search,
  async (words) => {
    if (!words.trim()) return
    const list = await ask(api.GET('/api/rules/search', { params: { query: { words } } })).catch(() => [])
    if (words === search.value) found.value = Object.fromEntries(list.map((f) => [f.id, f.lines]))
  },
  { debounce: 150 },
)
const labels = computed(() => [...new Set(home.rules.flatMap((r) => r.labels ?? []))].sort())
/** Only rules with this label; kept in the address. */
const label = computed({
  get: () => String(route.query.label ?? ''),
  set: (to: string | null) => void router.replace({ query: { ...route.query, label: to || undefined } }),
})
const shown = computed(() =>
  home.rules.filter(
    (r) =>
      (!label.value || r.labels?.includes(label.value)) &&
      (r.id in found.value || r.title.toLowerCase().includes(search.value.trim().toLowerCase())),
  ),
)
/** Whether it is asked how a new rule begins; in the address, so that others can lead there. */
const starting = computed({
  get: () => route.query.new !== undefined,
  set: (on: boolean) => void router.replace({ query: { ...route.query, new: on ? '1' : undefined } }),
})
async function made(id: string) {
  await home.arrived('rule', id)
  await router.push(`/rules/${id}`)
  notices.done('Made, switched off until you have looked at it.')
}

const make = () =>
  notices.attempt(async () => {
    const saved = await ask(
      api.POST('/api/rules', { body: { title: 'New rule', enabled: true, whenever: {}, do: [] } }),
    )
    await home.arrived('rule', saved.id)
    await router.push({ path: `/rules/${saved.id}`, state: FILLING })
  })

function mark(r: Rule) {
  if (broken(r)) return 'failed'
  if (!r.enabled || unfinished(r)) return 'unknown'
  if (r.state.phase === 'holding' || r.state.frames?.length) return 'on'
  return r.state.phase === 'idle' ? 'off' : 'pending'
}
function value(r: Rule) {
  if (unfinished(r)) return 'to fill in'
  if (!r.enabled) return 'off'
  return (
    { idle: '', armed: 'about to', holding: 'holding', ending: 'letting go' }[r.state.phase] ||
    (r.state.frames?.length ? 'running' : '')
  )
}
function reason(r: Rule) {
  const line = found.value[r.id]?.[0]
  if (line) return line
  const wrong = r.state.problems.find((p) => !p.open)
  if (wrong) return wrong.message
  if (r.state.stopped) return r.state.stopped
  return r.state.lastBegan ? `last ${home.times.since(r.state.lastBegan, home.now)}` : 'has not acted yet'
}
</script>

<template>
  <EmptyPage v-if="!home.rules.length" title="No rules yet">
    <p>
      A rule reads as a sentence: <i>while</i> somebody moves on the landing, <i>hold</i> the stair lamp at 60 %; once
      that has ended, <i>let go</i>.
    </p>
    <Button label="Write the first rule" @click="starting = true" />
  </EmptyPage>
  <ListDetail v-else title="Rules" :note="`${home.rules.length}`" :chosen="!!route.params.id" back="/rules">
    <template #tools>
      <div class="tools">
        <InputText v-model="search" fluid placeholder="Search words, devices, rooms" aria-label="Search rules" />
        <Button label="New" severity="secondary" aria-label="New rule" @click="starting = true" />
      </div>
      <div v-if="labels.length" class="tools">
        <Select
          v-model="label"
          :options="labels"
          placeholder="every label"
          show-clear
          fluid
          aria-label="Only rules with a label"
        />
      </div>
    </template>
    <template #list>
      <LongList v-slot="{ item: r }" :items="shown" :item-key="(row) => row.id">
        <ListRow
          :to="`/rules/${r.id}${label ? `?label=${encodeURIComponent(label)}` : ''}`"
          :chosen="r.id === chosen?.id"
        >
          <template #mark><StateMark :mark="mark(r)" /></template>
          {{ r.title }}
          <template #value>{{ r.draft ? 'draft' : value(r) }}</template>
          <template #reason>{{ reason(r) }}</template>
        </ListRow>
      </LongList>
    </template>
    <RuleEditor v-if="chosen" :key="chosen.id" :rule="chosen" />
    <p v-else-if="route.params.id" class="soft">This rule was deleted.</p>
    <RulesOverview v-else />
  </ListDetail>
  <StartingPoints v-model:visible="starting" @empty="make" @made="made" />
</template>

<style scoped>
.tools {
  display: flex;
  gap: var(--space-8);
  padding: 0 var(--space-16) var(--space-10);
}
</style>
