<script setup lang="ts">
import { computed } from 'vue'
import type { Comparison, Problem, Trigger } from '@/api/types'
import { comparisons, join, split, triggerChoices } from '@/lib/sentences'
import { withFormula } from '@/lib/formulas'
import { sharedRoles } from '@/lib/groups'
import { likelyFirst, useSpoken } from '@/lib/likely'
import type { DeviceSet } from '@/lib/sets'
import { GROUP, setOf } from '@/lib/steps'
import { useHome } from '@/stores/home'
import DurationToken from '@/components/tokens/DurationToken.vue'
import EntryWords from './EntryWords.vue'
import MomentToken from '@/components/tokens/MomentToken.vue'
import SentenceLine from '@/components/tokens/SentenceLine.vue'
import TextToken from '@/components/tokens/TextToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import type { Choice } from '@/lib/choice'
import ValueToken from '@/components/tokens/ValueToken.vue'

/** What starts a when rule, any of these. */
const triggers = defineModel<Trigger[]>({ required: true })
const props = defineProps<{
  problems: Problem[]
  /** When triggers that wait for a time come next, by their index. */
  next?: Record<string, string>
}>()
const home = useHome()

const ANY = 'any'
type Change = Comparison | typeof ANY
type Kind = NonNullable<Trigger['kind']>
const KIND = 'kind'
const kinds: { value: Kind; title: string }[] = [
  { value: 'time', title: 'a time of day' },
  { value: 'entry', title: 'a calendar event' },
  { value: 'phrase', title: 'a phrase is said or typed' },
  { value: 'call', title: 'another program calls' },
  { value: 'start', title: 'the hub starts' },
  { value: 'silent', title: 'a device falls silent' },
]
const spoken = useSpoken()
const choices = computed(() =>
  likelyFirst(
    kinds.map((k) => ({ value: join(KIND, k.value), title: k.title, group: 'Besides devices' })),
    [
      ...triggerChoices(home.everything, home.rooms),
      ...home.sets.flatMap((s) => [
        ...setEvents(s).map((e) => ({
          value: join(GROUP + s.id, `event:${e.name}`),
          title: `any ${s.title}: ${e.title.toLowerCase()}`,
          group: s.kind,
        })),
        ...sharedRoles(s, home.everything).map((r) => ({
          value: join(GROUP + s.id, r.role),
          title: `any ${s.title}: ${r.property.title.toLowerCase()}`,
          group: s.kind,
        })),
      ]),
    ],
    spoken(),
    home.everything,
  ),
)
const devices = computed(() => [
  ...home.devices.map((d) => ({ value: d.id, title: d.title, group: home.roomTitle(d.room) })),
  ...home.sets.map((s) => ({ value: GROUP + s.id, title: `any ${s.title}`, group: s.kind })),
])
/** The events of the devices of a set, each name once. */
function setEvents(s: DeviceSet) {
  const all = s.devices.flatMap((id) => home.device(id)?.description.events ?? [])
  return all.filter((e, i) => all.findIndex((x) => x.name === e.name) === i)
}
const subjectOf = (t: Trigger) => (t.group ? { group: t.group } : { device: t.device })
const becomes: Record<Comparison, string> = {
  is: 'becomes',
  isNot: 'is no longer',
  above: 'rises above',
  below: 'falls below',
  atLeast: 'rises to at least',
  atMost: 'falls to at most',
}

const propertyOf = (t: Trigger) =>
  t.group
    ? sharedRoles(home.set(t.group), home.everything).find((s) => s.role === t.property)?.property
    : home.property(t.device, t.property)
function eventOf(t: Trigger) {
  const set = home.set(t.group)
  const events = set ? setEvents(set) : home.device(t.device)?.description.events
  return events?.find((e) => e.name === t.event)
}
function subject(t: Trigger): string | undefined {
  if (t.kind) return join(KIND, t.kind)
  const name = t.event ? `event:${t.event}` : t.property
  const about = t.group ? GROUP + t.group : t.device
  return about && name ? join(about, name) : undefined
}
const problemAt = (i: number) => props.problems.find((p) => p.path.startsWith(`when/${i}`))?.message

function changes(t: Trigger): Choice<Change>[] {
  const property = propertyOf(t)
  const compared = comparisons(property).map((c) => ({
    value: c.value as Change,
    title: becomes[c.value],
  }))
  return [{ value: ANY, title: 'changes' }, ...compared]
}
const turns: Choice<Change>[] = [
  { value: ANY, title: 'either way' },
  { value: 'above', title: 'to the right' },
  { value: 'below', title: 'to the left' },
]

function byFormula(i: number, t: Trigger, field: 'value' | 'forSeconds', formula: string | undefined) {
  const value = field === 'value' && formula !== undefined ? undefined : t.value
  replace(i, { ...t, value, formulas: withFormula(t.formulas, field, formula) })
}
function replace(i: number, t: Trigger) {
  triggers.value = triggers.value.map((old, n) => (n === i ? t : old))
}
function choose(i: number, value: string) {
  const [device, name] = split(value)
  if (device === KIND) {
    const kind = name as Kind
    replace(i, kind === 'time' ? { kind, at: { anchor: 'clock', clock: '07:00' } } : { kind })
    return
  }
  const group = setOf(device)
  const about: Trigger = group === undefined ? { device } : { group }
  if (name.startsWith('event:')) {
    replace(i, { ...about, event: name.slice(6) })
    return
  }
  const chosen = { ...about, property: name }
  if (propertyOf(chosen)?.type === 'boolean') replace(i, { ...chosen, comparison: 'is', value: true })
  else replace(i, chosen)
}
function compare(i: number, t: Trigger, change: Change) {
  const { property, event } = t
  const base = event ? { ...subjectOf(t), event } : { ...subjectOf(t), property }
  if (change === ANY) replace(i, base)
  else replace(i, { ...base, comparison: change, value: event ? 0 : t.value })
}
const gestureWords: Record<string, string> = {
  press: 'is pressed',
  double: 'is pressed twice',
  triple: 'is pressed three times',
  hold: 'is held',
  release: 'is released',
  down: 'goes down',
  up: 'goes up',
}
/** What of an event can be told apart: of a device's key what the hub says, of a set what all of them send. */
function tellable(t: Trigger): string[] {
  const event = eventOf(t)
  return (t.device && home.device(t.device)?.gestures?.[event?.name ?? '']?.all) || (event?.options ?? [])
}
const gestures = (t: Trigger): Choice<string>[] => [
  { value: ANY, title: 'does anything' },
  ...tellable(t).map((o) => ({ value: o, title: gestureWords[o] ?? `: ${o}` })),
]
function gesture(i: number, t: Trigger, value: string) {
  const base = { ...subjectOf(t), event: t.event }
  replace(i, value === ANY ? base : { ...base, comparison: 'is', value })
}
/** What stands beside a trigger: the value now, or when it comes next. */
function aside(t: Trigger, i: number): string {
  if (t.device && propertyOf(t)) return `now ${home.state(t.device, t.property)?.text ?? '–'}`
  const next = props.next?.[i]
  return next ? `next ${home.times.since(next, home.now)}` : ''
}
const drop = (i: number) => (triggers.value = triggers.value.filter((_, n) => n !== i))
</script>

<template>
  <SentenceLine v-for="(t, i) in triggers" :key="i" :depth="1" :problem="problemAt(i)">
    <span v-if="i" class="soft">or </span>
    <TokenPicker
      :model-value="subject(t)"
      :choices="choices"
      label="What starts it"
      lately
      empty="choose a device"
      @update:model-value="choose(i, $event)"
    />
    {{ ' ' }}
    <MomentToken
      v-if="t.kind === 'time'"
      :model-value="t.at"
      label="Time"
      days
      @update:model-value="replace(i, { ...t, at: $event })"
    />
    <EntryWords v-else-if="t.kind === 'entry'" :model-value="t" @update:model-value="replace(i, $event)" />
    <TextToken
      v-else-if="t.kind === 'phrase' || t.kind === 'call'"
      :model-value="t.words"
      :label="t.kind === 'phrase' ? 'Phrase' : 'Name that is called'"
      :empty="t.kind === 'phrase' ? 'say which words' : 'give the name'"
      :maximum="80"
      @update:model-value="replace(i, { ...t, words: $event })"
    />
    <TokenPicker
      v-else-if="t.kind === 'silent'"
      :model-value="t.group ? GROUP + t.group : t.device"
      :choices="devices"
      label="Which device"
      empty="choose a device"
      @update:model-value="
        replace(i, { kind: 'silent', ...(setOf($event) ? { group: setOf($event) } : { device: $event }) })
      "
    />
    <TokenPicker
      v-else-if="eventOf(t)?.number"
      :model-value="t.comparison ?? ANY"
      :choices="turns"
      label="Which way"
      @update:model-value="compare(i, t, $event)"
    />
    <TokenPicker
      v-else-if="tellable(t).length"
      :model-value="t.comparison ? String(t.value) : ANY"
      :choices="gestures(t)"
      label="Which gesture"
      @update:model-value="gesture(i, t, $event)"
    />
    <template v-else-if="propertyOf(t)">
      <TokenPicker
        :model-value="t.comparison ?? ANY"
        :choices="changes(t)"
        label="How it changes"
        @update:model-value="compare(i, t, $event)"
      />
      {{ ' ' }}
      <ValueToken
        v-if="t.comparison"
        :model-value="t.value"
        :property="propertyOf(t)"
        label="Value"
        workable
        :formula="t.formulas?.value"
        @update:model-value="replace(i, { ...t, value: $event })"
        @update:formula="byFormula(i, t, 'value', $event)"
      />
      <template v-if="t.forSeconds || t.formulas?.forSeconds !== undefined">
        {{ ' ' }}
        <DurationToken
          :model-value="t.forSeconds"
          label="And stays so"
          zero="for any time"
          lead="and stays so for "
          workable
          :formula="t.formulas?.forSeconds"
          @update:model-value="replace(i, { ...t, forSeconds: $event || undefined })"
          @update:formula="byFormula(i, t, 'forSeconds', $event)"
        />
      </template>
      <button
        v-else-if="t.comparison"
        type="button"
        class="plain soft word"
        aria-label="And stays so for some time"
        title="It must stay so for a time"
        @click="replace(i, { ...t, forSeconds: 60 })"
      >
        and stays so …
      </button>
    </template>
    <span v-else-if="t.event">happens</span>
    <button
      type="button"
      class="plain soft drop"
      :aria-label="`Remove trigger ${i + 1}`"
      title="Remove"
      @click="drop(i)"
    >
      ×
    </button>
    <span v-if="t.kind === 'call'" class="soft small">
      What it sends as JSON is there in the steps: sentNumber("/temp"), sentText, sentYes.</span
    >
    <template #right>{{ aside(t, i) }}</template>
  </SentenceLine>
  <SentenceLine :depth="1">
    <button type="button" class="plain link add" @click="triggers = [...triggers, {}]">
      {{ triggers.length ? 'Or when something else happens' : 'Choose what starts it' }}
    </button>
    <span v-if="!triggers.length" class="soft small">
      Without this it runs only by hand, from a dashboard or by another rule.</span
    >
  </SentenceLine>
</template>

<style scoped>
.word {
  font-size: var(--type-small);
  margin-left: var(--space-8);
}
.drop {
  margin-left: var(--space-12);
  min-width: 24px;
}
.add,
.small {
  font-size: var(--type-text);
}
</style>
