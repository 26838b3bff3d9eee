<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { PretenceView, RuleDocument, Value } from '@/api/types'
import { readClock } from '@/lib/clock'
import { duration } from '@/lib/format'
import { lookedAt } from '@/lib/pretend'
import { propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'
import TypedInput from '@/components/inputs/TypedInput.vue'
import DurationToken from '@/components/tokens/DurationToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ValueToken from '@/components/tokens/ValueToken.vue'

/** What a rule would do with readings, a time and a mode that are only pretended. Nothing is sent. */
const props = defineProps<{ rule: string; document: RuleDocument }>()
defineEmits<{ close: [] }>()
const home = useHome()

interface Row {
  device: string
  name: string
  then: boolean
  value: Value | undefined
}
const rows = ref<Row[]>([])
const clock = ref('')
const start = ref('so')
const span = ref(600)
const view = ref<PretenceView>()
const failed = ref('')

// What the rule looks at is offered by itself; what was chosen stays.
watch(
  () => lookedAt(props.document),
  (looked) => {
    for (const l of looked)
      if (!rows.value.some((r) => r.device === l.device && r.name === l.name))
        rows.value.push({ device: l.device, name: l.name, then: l.starts, value: undefined })
  },
  { immediate: true },
)
const others = computed(() =>
  propertyChoices(home.everything, home.rooms).filter((c) => {
    const [device, name] = split(c.value)
    return !rows.value.some((r) => r.device === device && r.name === name)
  }),
)
function add(value: string) {
  const [device, name] = split(value)
  rows.value.push({ device, name, then: false, value: home.state(device, name)?.value })
}
const whens = [
  { value: 'already', title: 'is already' },
  { value: 'then', title: 'then becomes' },
]
const starts = computed(() => [
  { value: 'so', title: 'its trigger' },
  ...(props.document.when ?? []).map((_, i) => ({ value: String(i + 1), title: `its trigger ${i + 1}` })),
  { value: 'hand', title: 'a hand that runs it' },
])
const titleOf = (r: Row) => {
  const property = home.property(r.device, r.name)
  const device = home.device(r.device)
  return device?.own ? property?.title : `${device?.title ?? 'gone'} ${(property?.title ?? r.name).toLowerCase()}`
}

let asked = 0
async function pretend() {
  const mine = ++asked
  const chosen = rows.value.filter((r) => r.value !== undefined)
  const reading = (r: Row) => ({ device: r.device, name: r.name, value: r.value! })
  try {
    const answer = await ask(
      api.POST('/api/rules/{id}/pretend', {
        params: { path: { id: props.rule } },
        body: {
          document: props.document,
          clock: clock.value || undefined,
          before: chosen.filter((r) => !r.then).map(reading),
          then: chosen.filter((r) => r.then).map(reading),
          trigger: Number(start.value) || undefined,
          byHand: start.value === 'hand' || undefined,
          spanSeconds: span.value,
        },
      }),
    )
    if (mine !== asked) return
    view.value = answer
    failed.value = ''
  } catch (error) {
    if (mine === asked) failed.value = reasonOf(error)
  }
}
watchDebounced(() => JSON.stringify([props.document, rows.value, clock.value, start.value, span.value]), pretend, {
  debounce: 200,
})
void pretend()
const after = (s: number) => (s === 0 ? 'at once' : s < 1 ? `+${Math.round(s * 1000)} ms` : `+${duration(s)}`)
</script>

<template>
  <section class="panel" aria-label="Pretend">
    <header>
      <h2>Pretend</h2>
      <span class="soft small">Nothing is sent. Devices are taken to do what they are asked.</span>
      <button type="button" class="plain soft close" aria-label="Close pretending" @click="$emit('close')">×</button>
    </header>
    <div class="columns">
      <div>
        <p class="row">
          <label
            >It is
            <TypedInput
              v-model="clock"
              class="clock"
              label="Pretended time"
              placeholder="now"
              :read="readClock"
              mistake="A time, such as 21:30"
            />
          </label>
          <button v-if="clock" type="button" class="plain link small" @click="clock = ''">now</button>
        </p>
        <p v-for="r in rows" :key="r.device + r.name" class="row">
          <span class="what">{{ titleOf(r) }}</span>
          <TokenPicker
            :model-value="r.then ? 'then' : 'already'"
            :choices="whens"
            :label="`When ${titleOf(r)}`"
            @update:model-value="r.then = $event === 'then'"
          />
          <template v-if="r.value === undefined">
            <button
              type="button"
              class="plain token soft"
              :aria-label="`Pretend another value of ${titleOf(r)}`"
              @click="
                r.value =
                  home.state(r.device, r.name)?.value ??
                  (home.property(r.device, r.name)?.type === 'boolean' ? true : 0)
              "
            >
              as it is now
            </button>
          </template>
          <template v-else>
            <ValueToken
              :model-value="r.value"
              :property="home.property(r.device, r.name)"
              :label="`Pretended ${titleOf(r)}`"
              @update:model-value="r.value = $event"
            />
            <button
              type="button"
              class="plain soft"
              :aria-label="`As it is now: ${titleOf(r)}`"
              @click="r.value = undefined"
            >
              ×
            </button>
          </template>
        </p>
        <p class="row">
          <TokenPicker
            :model-value="undefined"
            :choices="others"
            label="Something else to pretend"
            empty="something else"
            @update:model-value="add"
          />
        </p>
        <p class="row">
          It is started by
          <TokenPicker v-model="start" :choices="starts" label="Started by" />
        </p>
        <p class="row">Follow it for <DurationToken v-model="span" label="Follow it for" zero="this moment only" /></p>
      </div>
      <div aria-live="polite">
        <p v-if="failed" class="fault" role="alert">{{ failed }}</p>
        <template v-else-if="view">
          <p v-if="view.problems.length" class="fault">It cannot run: {{ view.problems[0]!.message }}</p>
          <ol class="lines">
            <li v-for="(l, i) in view.lines.filter((x) => x.truth !== undefined)" :key="i">
              <span class="mono left"
                ><i :class="{ so: l.truth }" aria-hidden="true" />{{ l.truth ? 'true' : 'false' }}</span
              >
              <span
                >{{ l.text }}<span v-if="l.value" class="mono soft value">{{ l.value }}</span></span
              >
            </li>
          </ol>
          <h3>What would happen</h3>
          <p v-if="!view.happens.length" class="soft small">Nothing.</p>
          <ol class="lines">
            <li v-for="(e, i) in view.happens" :key="i" :class="[e.tone, { other: !e.mine }]">
              <span class="mono left">{{ after(e.afterSeconds) }}</span>
              <span>{{ e.text }}<span v-if="!e.mine" class="soft small"> by another rule</span></span>
            </li>
          </ol>
          <p v-if="view.cut" class="soft small">And so on: there is more than is shown.</p>
        </template>
      </div>
    </div>
  </section>
</template>

<style scoped>
.panel {
  border: 1px dashed var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
  padding: var(--space-10) var(--space-16) var(--space-14);
  margin-top: var(--space-14);
}
header {
  display: flex;
  gap: var(--space-14);
  align-items: baseline;
}
h2 {
  color: var(--ink);
}
h3 {
  font-size: var(--type-small);
  margin: var(--space-10) 0 var(--space-2);
}
.close {
  margin-left: auto;
  font-size: var(--type-head);
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--space-8) var(--space-26);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-10);
  align-items: baseline;
  padding: var(--space-2) 0;
  font-size: var(--type-text);
}
.what {
  font-weight: 650;
}
.clock {
  width: 84px;
}
.lines {
  font-size: var(--type-small);
}
.lines li {
  display: grid;
  grid-template-columns: 74px 1fr;
  gap: var(--space-10);
  padding: var(--space-2) 0;
}
.left {
  text-align: right;
  font-size: var(--type-note);
  color: var(--ink-soft);
}
.left i {
  display: inline-block;
  width: 10px;
  height: 10px;
  border: 2px solid var(--ink-soft);
  border-radius: 50%;
  margin-right: var(--space-6);
}
.left .so {
  background: var(--verdigris);
  border-color: var(--verdigris);
}
.value {
  margin-left: var(--space-8);
  font-size: var(--type-note);
}
.other {
  color: var(--ink-soft);
}
.fault {
  color: var(--ember);
}
.small {
  font-size: var(--type-small);
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
