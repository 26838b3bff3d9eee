<script setup lang="ts">
import { useDebounceFn, useMediaQuery } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import type { Entry } from '@/api/types'
import CauseChain from '@/components/device/CauseChain.vue'
import ErrorNote from '@/components/page/ErrorNote.vue'
import TypedInput from '@/components/inputs/TypedInput.vue'
import JournalOverview from '@/components/overview/JournalOverview.vue'
import CauseEntries from '@/components/history/CauseEntries.vue'
import { useLooking } from '@/lib/looking'
import { readDay, sayDay } from '@/lib/clock'
import { type CauseGroup, groupByCause } from '@/lib/journal'
import { useHome } from '@/stores/home'

const home = useHome()
useLooking('journal')
const route = useRoute()
const router = useRouter()

const PAGE = 100
const filtered = ref<Entry[]>([])
const older = ref<Entry[]>([])
const all = ref(false) // whether the oldest entry is shown
const failed = ref('')

const device = computed({
  get: () => String(route.query.device ?? ''),
  set: (device: string) =>
    void router.replace({ query: { ...route.query, device: device || undefined, rule: undefined, entry: undefined } }),
})
const rule = computed({
  get: () => String(route.query.rule ?? ''),
  set: (rule: string) =>
    void router.replace({ query: { ...route.query, rule: rule || undefined, device: undefined, entry: undefined } }),
})
const words = computed({
  get: () => String(route.query.words ?? ''),
  set: (to: string) => void router.replace({ query: { ...route.query, words: to || undefined, entry: undefined } }),
})
/** The day up to which is looked, as YYYY-MM-DD. */
const day = computed({
  get: () => String(route.query.day ?? ''),
  set: (to: string) => void router.replace({ query: { ...route.query, day: to || undefined, entry: undefined } }),
})
const searching = computed(() => !!words.value.trim() || !!day.value)
/** Where to search on from; none when all was searched. */
const searchOn = ref<number>()
const chosen = computed(() => (route.query.entry ? Number(route.query.entry) : undefined))
const filtering = computed(() => !!device.value || !!rule.value || searching.value)

async function read(before?: number): Promise<Entry[]> {
  failed.value = ''
  try {
    if (searching.value) {
      const found = await ask(
        api.GET('/api/journal/search', {
          params: {
            query: {
              words: words.value,
              day: day.value || undefined,
              device: device.value || undefined,
              rule: rule.value || undefined,
              before,
            },
          },
        }),
      )
      searchOn.value = found.before
      all.value = !found.before
      return found.entries
    }
    const list = await ask(
      api.GET('/api/journal', {
        params: { query: { device: device.value || undefined, rule: rule.value || undefined, before, limit: PAGE } },
      }),
    )
    all.value = list.length < PAGE
    return list
  } catch (error) {
    failed.value = reasonOf(error)
    return []
  }
}

async function begin() {
  older.value = []
  all.value = false
  filtered.value = filtering.value ? await read() : []
}
watch([device, rule, words, day], begin, { immediate: true })

// What arrives while looking joins at the top.
const newest = computed(() =>
  searching.value
    ? []
    : home.entries.filter(
        (e) => (!device.value || e.device === device.value) && (!rule.value || e.rule === rule.value),
      ),
)
const list = computed(() => {
  const seen = new Map<number, Entry>()
  for (const e of [...newest.value, ...filtered.value, ...older.value]) seen.set(e.id, e)
  return [...seen.values()].sort((a, b) => b.id - a.id)
})
const days = computed(() => {
  const all: { date: string; groups: CauseGroup[] }[] = []
  for (const group of groupByCause(list.value)) {
    const date = home.times.date(group.root.at)
    if (all.at(-1)?.date !== date) all.push({ date, groups: [] })
    all.at(-1)!.groups.push(group)
  }
  return all
})

/** Where there is no room beside, the chain stands below the entry. */
const narrow = useMediaQuery('(max-width: 900px)')
const typed = useDebounceFn((text: string) => void (words.value = text), 250)
async function more() {
  older.value = [...older.value, ...(await read(searching.value ? searchOn.value : list.value.at(-1)?.id))]
}
const open = (e: Entry) =>
  router.replace({ query: { ...route.query, entry: chosen.value === e.id ? undefined : String(e.id) } })
</script>

<template>
  <div class="page">
    <header class="head">
      <h1>Journal</h1>
      <div class="filters">
        <InputText
          :model-value="words"
          placeholder="Search words"
          aria-label="Only with these words"
          @update:model-value="typed($event ?? '')"
        />
        <TypedInput
          v-model="day"
          label="Up to this day"
          placeholder="up to a day"
          :read="(typed) => readDay(typed, home.times.isoDay(home.now))"
          :say="sayDay"
          mistake="A day, such as 28 Nov"
        />
        <Select
          v-model="device"
          filter
          :options="home.devices"
          placeholder="every device"
          show-clear
          option-label="title"
          option-value="id"
          aria-label="Only about a device"
        />
        <Select
          v-model="rule"
          filter
          :options="home.rules"
          placeholder="every rule"
          show-clear
          option-label="title"
          option-value="id"
          aria-label="Only about a rule"
        />
      </div>
    </header>
    <div class="columns">
      <div class="entries">
        <ErrorNote v-if="failed" :reason="failed" @again="begin" />
        <ErrorNote v-else-if="home.entriesFailed" :reason="home.entriesFailed" @again="home.begin('journal')" />
        <p v-else-if="!list.length" class="soft none">
          {{ filtering ? 'Nothing was written down about it.' : 'Nothing has happened yet.' }}
        </p>
        <section v-for="d in days" :key="d.date">
          <h2>{{ d.date }}</h2>
          <ol>
            <CauseEntries v-for="g in d.groups" :key="g.root.id" :group="g" :chosen="chosen" @choose="open">
              <CauseChain v-if="narrow" :entry="chosen" />
            </CauseEntries>
          </ol>
        </section>
        <p v-if="searching && !all" class="soft">There is more to search further back.</p>
        <Button
          v-if="(list.length || searching) && !all"
          class="more"
          severity="secondary"
          :label="searching ? 'Search further back' : 'Older'"
          @click="more"
        />
      </div>
      <aside v-if="!chosen || !narrow">
        <CauseChain v-if="chosen && !narrow" :entry="chosen" />
        <JournalOverview v-else />
      </aside>
    </div>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  display: flex;
  flex-direction: column;
  padding: var(--space-20) var(--space-26) 0;
}
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: var(--space-12);
  align-items: flex-end;
  border-bottom: 1px solid var(--rule);
  padding-bottom: var(--space-12);
}
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
}
.filters > * {
  width: 210px;
}
.columns {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 400px;
}
.entries {
  overflow-y: auto;
  padding-bottom: var(--space-44);
}
aside {
  overflow-y: auto;
  border-left: 1px solid var(--rule);
  padding: var(--space-16) 0 var(--space-44) var(--space-20);
}
h2 {
  padding: var(--space-14) 0 var(--space-4);
  position: sticky;
  top: 0;
  background: var(--paper);
}
.more {
  margin-top: var(--space-14);
}
.none {
  padding: var(--space-20) 0;
}
@media (max-width: 720px) {
  .page {
    padding-inline: var(--space-14);
  }
  .filters > * {
    width: calc(50% - var(--space-4));
  }
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
    overflow-y: auto;
  }
  .entries,
  aside {
    overflow: visible;
    border: 0;
  }
}
</style>
