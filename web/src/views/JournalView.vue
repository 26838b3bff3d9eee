<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, Problem } from '@/api/client'
import type { Entry } from '@/api/types'
import CauseChain from '@/components/device/CauseChain.vue'
import { useLooking } from '@/lib/looking'
import { delay } from '@/lib/format'
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
    failed.value = error instanceof Problem ? error.message : String(error)
    return []
  }
}

watch(
  [device, rule, words, day],
  async () => {
    older.value = []
    all.value = false
    filtered.value = filtering.value ? await read() : []
  },
  { immediate: true },
)

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
  const groups: { date: string; entries: Entry[] }[] = []
  for (const e of list.value) {
    const date = home.times.date(e.at)
    if (groups.at(-1)?.date !== date) groups.push({ date, entries: [] })
    groups.at(-1)!.entries.push(e)
  }
  return groups
})

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
        <input v-model.lazy="day" type="date" class="day" aria-label="Up to this day" title="Up to this day" />
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
        <p v-if="failed" class="wrong" role="alert">{{ failed }}</p>
        <p v-else-if="!list.length" class="soft none">
          {{ filtering ? 'Nothing was written down about it.' : 'Nothing has happened yet.' }}
        </p>
        <section v-for="g in days" :key="g.date">
          <h2>{{ g.date }}</h2>
          <ol>
            <li v-for="e in g.entries" :key="e.id">
              <button
                class="plain entry"
                :class="[e.tone, { chosen: e.id === chosen }]"
                :aria-expanded="e.id === chosen"
                @click="open(e)"
              >
                <span class="mono when">{{ home.times.exact(e.at) }}</span>
                <i aria-hidden="true" />
                <span
                  >{{ e.text
                  }}<span v-if="delay(e.milliseconds ?? 0)" class="soft mono ms">{{
                    delay(e.milliseconds ?? 0)
                  }}</span></span
                >
              </button>
            </li>
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
      <aside>
        <CauseChain v-if="chosen" :entry="chosen" />
        <p v-else class="soft">Choose an entry to see from where it came and what followed.</p>
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
  gap: var(--space-8);
}
.filters > * {
  width: 210px;
}
.filters > .day {
  width: 150px;
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
  padding: 0 var(--space-8);
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
.entry {
  width: 100%;
  display: grid;
  grid-template-columns: 74px 10px minmax(0, 1fr);
  gap: var(--space-12);
  align-items: baseline;
  padding: var(--space-4) var(--space-14) var(--space-4) var(--space-4);
  border-top: 1px solid var(--rule);
}
.entry:hover {
  background: var(--verdigris-wash);
}
.chosen {
  background: var(--sheet);
  box-shadow: inset 3px 0 var(--verdigris);
}
.when {
  font-size: var(--type-note);
  color: var(--ink-soft);
}
.entry i {
  width: 8px;
  height: 8px;
  border-radius: 50%;
  border: 1.5px solid var(--ink-soft);
}
.automation i {
  background: var(--ink);
  border-color: var(--ink);
}
.hand i {
  background: var(--plum);
  border-color: var(--plum);
}
.fault i {
  background: var(--ember);
  border-color: var(--ember);
  border-radius: 1px;
}
.fault {
  color: var(--ember);
}
.ms {
  margin-left: var(--space-10);
  font-size: var(--type-note);
}
.more {
  margin-top: var(--space-14);
}
.none {
  padding: var(--space-20) 0;
}
.wrong {
  color: var(--ember);
  padding: var(--space-12) 0;
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
