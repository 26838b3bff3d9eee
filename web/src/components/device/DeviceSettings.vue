<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import InputNumber from 'primevue/inputnumber'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { Device, Entry, Property, PropertyState, Value } from '@/api/types'
import { act } from '@/lib/act'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import StateMark from '@/components/marks/StateMark.vue'

/** How a device is set up: each option says what it changes and what goes wrong when it is chosen wrongly. */
const props = defineProps<{ device: Device; look?: string[] }>()
const home = useHome()
const notices = useNotices()

interface Row {
  property: Property
  state: PropertyState
  choices: { value: Value; title: string }[]
}
/** Settings on which it depends what else counts come first. */
const deciding = computed(() => new Set(props.device.description.properties.map((p) => p.only?.name)))
const rows = computed<Row[]>(() =>
  props.device.description.properties
    .flatMap((property) => {
      const state = props.device.states.find((s) => s.name === property.name)
      // The least level of a lamp stands with its light, where it can be found by a try.
      return property.setting && property.role !== 'leastLevel' && state
        ? [{ property, state, choices: choices(property) }]
        : []
    })
    .sort((a, b) => Number(deciding.value.has(b.property.name)) - Number(deciding.value.has(a.property.name))),
)
function choices(p: Property): Row['choices'] {
  const meaning = (key: string) => p.setting?.meanings?.[key]
  const title = (word: string, key: string) => (meaning(key) ? `${word}: ${meaning(key)}` : word)
  if (p.type === 'boolean')
    return [false, true].map((value, i) => ({
      value,
      title: title(p.words?.[i] ?? (value ? 'yes' : 'no'), String(value)),
    }))
  return (p.options ?? []).map((value) => ({ value, title: title(p.titles?.[value] ?? value, value) }))
}

const shown = (s: PropertyState) => (s.certainty === 'pending' ? s.target : s.value)

const numberOf = (v: Value | undefined) => (typeof v === 'number' ? v : null)
// The arrows change the number many times: it is sent when they rest.
const RESTS = 400
const rested = useTimeoutFn((row: Row, value: number) => void choose(row, value), RESTS, { immediate: false })
function typed(row: Row, value: number | null) {
  rested.stop()
  if (value !== null && value !== numberOf(shown(row.state))) rested.start(row, value)
}

async function choose(row: Row, value: Value) {
  const before = row.state.value
  await notices.attempt(async () => {
    await act.write(props.device.id, row.property.name, value)
    notices.done(`${row.property.title} of ${props.device.title} changed.`, () =>
      act.write(props.device.id, row.property.name, before),
    )
  })
}

/** The option whose changes are shown, and they. */
const past = ref('')
const changes = ref<Entry[]>([])
async function history(name: string) {
  past.value = past.value === name ? '' : name
  if (!past.value) return
  await notices.attempt(async () => {
    changes.value = await ask(
      api.GET('/api/journal', { params: { query: { device: props.device.id, name, limit: 40 } } }),
    )
  })
}
const LABEL = 'Set up'
</script>

<template>
  <section v-if="rows.length" class="settings" :aria-label="LABEL">
    <h2>{{ LABEL }}</h2>
    <article
      v-for="row in rows"
      :key="row.property.name"
      class="option"
      :class="{ look: look?.includes(row.property.name) }"
    >
      <div class="top">
        <b><StateMark :state="row.state" :silent="device.silent" /> {{ row.property.title }}</b>
        <InputNumber
          v-if="row.property.type === 'number'"
          class="number"
          :model-value="numberOf(shown(row.state))"
          :min="row.property.minimum"
          :max="row.property.maximum"
          :max-fraction-digits="1"
          :suffix="` ${row.property.unit ?? ''}`"
          show-buttons
          :aria-label="row.property.title"
          @update:model-value="typed(row, $event)"
        />
        <Select
          v-else
          :model-value="shown(row.state)"
          :options="row.choices"
          option-value="value"
          option-label="title"
          :aria-label="row.property.title"
          @update:model-value="choose(row, $event)"
        />
      </div>
      <p class="small">{{ row.property.help }}</p>
      <p class="small soft"><b>If it is wrong:</b> {{ row.property.setting?.wrong }}</p>
      <p v-if="row.property.setting?.safety" class="small safety">
        <b>Mains voltage.</b> {{ row.property.setting.safety }}
      </p>
      <p v-if="row.state.certainty === 'failed'" class="small failed" role="alert">Failed: {{ row.state.failure }}</p>
      <p v-if="look?.includes(row.property.name)" class="small failed">Look here first.</p>
      <button
        class="plain link small"
        :aria-expanded="past === row.property.name"
        :aria-label="`Its changes: ${row.property.title.toLowerCase()}`"
        @click="history(row.property.name)"
      >
        Its changes
      </button>
      <ol v-if="past === row.property.name" class="past small">
        <li v-for="e in changes" :key="e.id">
          <span class="mono soft">{{ home.times.since(e.at, home.now) }}</span> {{ e.text }}
        </li>
        <li v-if="!changes.length" class="soft">Nothing was changed yet.</li>
      </ol>
    </article>
  </section>
</template>

<style scoped>
.settings {
  margin-top: var(--space-20);
}
.option {
  padding: var(--space-10) 0;
  border-bottom: 1px solid var(--rule);
}
.look {
  border-left: 3px solid var(--ember);
  padding-left: var(--space-12);
}
.top {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--space-14);
}
.top b {
  display: flex;
  gap: var(--space-8);
  align-items: center;
  font-size: var(--type-small);
}
.top :deep(.p-select) {
  min-width: 300px;
  max-width: 420px;
}
@media (max-width: 720px) {
  .top {
    flex-wrap: wrap;
  }
  .top :deep(.p-select) {
    min-width: 0;
    max-width: 100%;
  }
}
.small {
  font-size: var(--type-small);
}
.safety {
  color: var(--ochre);
}
.failed {
  color: var(--ember);
}
.past {
  margin: var(--space-6) 0 0;
  padding: 0;
  list-style: none;
}
</style>
