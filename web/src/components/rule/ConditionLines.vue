<script setup lang="ts">
import { computed } from 'vue'
import type { Comparison, Condition, ConditionState, Problem } from '@/api/types'
import { sharedRoles } from '@/lib/groups'
import { likelyFirst, useSpoken } from '@/lib/likely'
import { comparisons, join, propertyChoices, split } from '@/lib/sentences'
import { withFormula } from '@/lib/formulas'
import { GROUP, setChoices, setOf } from '@/lib/steps'
import { useHome } from '@/stores/home'
import DurationToken from '@/components/tokens/DurationToken.vue'
import EventWords from './EventWords.vue'
import ExpressionToken from '@/components/tokens/ExpressionToken.vue'
import MomentToken from '@/components/tokens/MomentToken.vue'
import RunningBar from './RunningBar.vue'
import SentenceLine from '@/components/tokens/SentenceLine.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import WasTrue from './WasTrue.vue'
import ValueToken from '@/components/tokens/ValueToken.vue'

/** A condition as lines, with the truth of each beside it. */
const condition = defineModel<Condition>({ required: true })
const props = withDefaults(
  defineProps<{
    path: string
    states: ConditionState[]
    problems: Problem[]
    depth?: number
    removable?: boolean
    lead?: string
  }>(),
  { depth: 1, lead: '' },
)
const emit = defineEmits<{ remove: [] }>()
const home = useHome()

type Group = 'all' | 'any' | 'none'
const groups: { value: Group; title: string }[] = [
  { value: 'all', title: 'all of these' },
  { value: 'any', title: 'any of these' },
  { value: 'none', title: 'none of these' },
]
const joints: Record<Group, string> = { all: 'and', any: 'or', none: 'nor' }

const group = computed<Group | undefined>(() => groups.find((g) => condition.value[g.value]?.length)?.value)
const members = computed<Condition[]>(() => (group.value ? (condition.value[group.value] ?? []) : []))
const state = computed(() => props.states.find((s) => s.path === props.path))
const WINDOW = 'window'
const EXPRESSION = 'expression'
const EVENT = 'event'
const property = computed(() =>
  condition.value.group
    ? sharedRoles(home.set(condition.value.group), home.everything).find((s) => s.role === condition.value.property)
        ?.property
    : home.property(condition.value.device, condition.value.property),
)
const spoken = useSpoken()
const choices = computed(() =>
  likelyFirst(
    [
      { value: WINDOW, title: 'the time', group: 'Other' },
      { value: EVENT, title: 'a calendar event', group: 'Other' },
      { value: EXPRESSION, title: 'a formula', group: 'Other' },
      ...setChoices(home.sets, home.everything, () => true).map((c) => ({
        ...c,
        title: c.title.replace(/^all /, ''),
      })),
    ],
    propertyChoices(home.everything, home.rooms),
    spoken(),
    home.everything,
  ),
)
const whiches: { value: NonNullable<Condition['which']>; title: string }[] = [
  { value: 'any', title: 'any of' },
  { value: 'all', title: 'every one of' },
  { value: 'none', title: 'none of' },
]
const problem = computed(
  () =>
    props.problems.find((p) => p.path === props.path || (!group.value && p.path.startsWith(`${props.path}/`)))?.message,
)
const subject = computed(() => {
  const { between, event, expression, group: of, device, property: name } = condition.value
  if (between) return WINDOW
  if (event) return EVENT
  if (expression !== undefined) return EXPRESSION
  if (!name) return undefined
  return of ? join(`${GROUP}${of}`, name) : device ? join(device, name) : undefined
})
const now = computed(() => {
  const s = home.state(condition.value.device, condition.value.property)
  return s ? `now ${s.text}` : ''
})

function choose(value: string) {
  const forAtLeastSeconds = condition.value.forAtLeastSeconds
  if (value === WINDOW) {
    condition.value = {
      between: { from: { anchor: 'clock', clock: '22:00' }, to: { anchor: 'clock', clock: '06:00' } },
      forAtLeastSeconds,
    }
    return
  }
  if (value === EXPRESSION) {
    condition.value = { expression: '', forAtLeastSeconds }
    return
  }
  if (value === EVENT) {
    condition.value = { event: { calendar: home.calendars[0]?.id ?? '' }, forAtLeastSeconds }
    return
  }
  const [device, name] = split(value)
  const id = setOf(device)
  if (id !== undefined) {
    const shared = sharedRoles(home.set(id), home.everything).find((s) => s.role === name)?.property
    condition.value = {
      group: id,
      which: 'any',
      property: name,
      comparison: shared?.type === 'number' ? 'above' : 'is',
      value: shared?.type === 'boolean' ? true : undefined,
      forAtLeastSeconds,
    }
    return
  }
  const chosen = home.property(device, name)
  const number = chosen?.type === 'number'
  condition.value = {
    device,
    property: name,
    comparison: number ? 'below' : 'is',
    value: chosen?.type === 'boolean' ? true : undefined,
    forAtLeastSeconds,
  }
}

const byFormula = (field: 'value' | 'forAtLeastSeconds', formula: string | undefined) =>
  (condition.value = {
    ...condition.value,
    formulas: withFormula(condition.value.formulas, field, formula),
    value: field === 'value' && formula !== undefined ? undefined : condition.value.value,
  })
const lasting = computed(
  () => !!condition.value.forAtLeastSeconds || condition.value.formulas?.forAtLeastSeconds !== undefined,
)
const last = (seconds: number) => (condition.value = { ...condition.value, forAtLeastSeconds: seconds || undefined })

function regroup(to: Group) {
  condition.value = { [to]: members.value, forAtLeastSeconds: condition.value.forAtLeastSeconds }
}

function replace(i: number, member: Condition) {
  if (group.value)
    condition.value = { ...condition.value, [group.value]: members.value.map((m, n) => (n === i ? member : m)) }
}

function drop(i: number) {
  if (!group.value) return
  const rest = members.value.filter((_, n) => n !== i)
  if (rest.length === 0) emit('remove')
  else if (rest.length === 1 && group.value !== 'none') condition.value = rest[0]!
  else condition.value = { ...condition.value, [group.value]: rest }
}

function add() {
  if (group.value) condition.value = { ...condition.value, [group.value]: [...members.value, {}] }
  else condition.value = { all: [{ ...condition.value }, {}] }
}
</script>

<template>
  <SentenceLine v-if="!group" :depth="depth" :problem="problem">
    <template #left>
      <span v-if="state" class="truth"
        ><i :class="{ so: state.truth }" aria-hidden="true" />{{ state.truth ? 'true' : 'false' }}</span
      >
    </template>
    <span v-if="lead" class="soft lead">{{ lead }}</span>
    <template v-if="condition.group">
      <TokenPicker
        :model-value="condition.which"
        :choices="whiches"
        label="How many of the group"
        @update:model-value="condition = { ...condition, which: $event }"
      />
      {{ ' ' }}
    </template>
    <TokenPicker
      :model-value="subject"
      :choices="choices"
      label="Device and property"
      lately
      empty="choose a device"
      @update:model-value="choose"
    />
    {{ ' ' }}
    <template v-if="condition.between">
      is between
      <MomentToken
        end
        :model-value="condition.between.from"
        label="From"
        days
        @update:model-value="condition = { ...condition, between: { ...condition.between!, from: $event! } }"
      />
      and
      <MomentToken
        end
        :model-value="condition.between.to"
        label="To"
        @update:model-value="condition = { ...condition, between: { ...condition.between!, to: $event! } }"
      />
    </template>
    <EventWords
      v-else-if="condition.event"
      :model-value="condition.event"
      @update:model-value="condition = { ...condition, event: $event }"
    />
    <ExpressionToken
      v-else-if="condition.expression !== undefined"
      :model-value="condition.expression"
      label="Expression"
      empty="write a formula"
      @update:model-value="condition = { ...condition, expression: $event }"
    />
    <template v-else-if="property">
      <TokenPicker
        :model-value="condition.comparison"
        :choices="comparisons(property)"
        label="Comparison"
        @update:model-value="condition = { ...condition, comparison: $event as Comparison }"
      />
      {{ ' ' }}
      <ValueToken
        :model-value="condition.value"
        :property="property"
        label="Value"
        workable
        :formula="condition.formulas?.value"
        @update:model-value="condition = { ...condition, value: $event }"
        @update:formula="byFormula('value', $event)"
      />
    </template>
    <template v-if="lasting">
      <span class="soft">, for at least </span>
      <DurationToken
        :model-value="condition.forAtLeastSeconds"
        label="So for at least"
        zero="any time"
        workable
        :formula="condition.formulas?.forAtLeastSeconds"
        @update:model-value="last"
        @update:formula="byFormula('forAtLeastSeconds', $event)"
      />
      <RunningBar v-if="state?.due" :since="state.lasts" :deadline="state.due" />
    </template>
    <span class="edits">
      <button
        v-if="!lasting && subject"
        type="button"
        class="plain soft word"
        aria-label="For at least some time"
        title="It must have been so for a time"
        @click="last(60)"
      >
        for …
      </button>
      <button
        type="button"
        class="plain soft"
        aria-label="Add a condition beside this one"
        title="Add a condition"
        @click="add"
      >
        +
      </button>
      <button
        v-if="removable"
        type="button"
        class="plain soft"
        aria-label="Remove this condition"
        title="Remove"
        @click="emit('remove')"
      >
        ×
      </button>
    </span>
    <template #right>
      <template v-if="state?.since && state.truth">since {{ home.times.moment(state.since, home.now) }}</template>
      <template v-else-if="state">{{ now }}</template>
      <WasTrue :state="state" />
    </template>
  </SentenceLine>
  <template v-else>
    <SentenceLine :depth="depth" :problem="problem">
      <template #left>
        <span v-if="state" class="truth"
          ><i :class="{ so: state.truth }" aria-hidden="true" />{{ state.truth ? 'true' : 'false' }}</span
        >
      </template>
      <span v-if="lead" class="soft lead">{{ lead }}</span>
      <TokenPicker
        :model-value="group"
        :choices="groups"
        label="How they count together"
        @update:model-value="regroup"
      />
      <template v-if="lasting">
        <span class="soft">, for at least </span>
        <DurationToken
          :model-value="condition.forAtLeastSeconds"
          label="So for at least"
          zero="any time"
          workable
          :formula="condition.formulas?.forAtLeastSeconds"
          @update:model-value="last"
          @update:formula="byFormula('forAtLeastSeconds', $event)"
        />
        <RunningBar v-if="state?.due" :since="state.lasts" :deadline="state.due" />
      </template>
      <span class="edits">
        <button
          v-if="!lasting"
          type="button"
          class="plain soft word"
          aria-label="These for at least some time"
          title="They must have been so for a time"
          @click="last(60)"
        >
          for …
        </button>
        <button
          type="button"
          class="plain soft"
          aria-label="Add a condition to these"
          title="Add a condition"
          @click="add"
        >
          +
        </button>
        <button
          v-if="removable"
          type="button"
          class="plain soft"
          aria-label="Remove these conditions"
          title="Remove all"
          @click="emit('remove')"
        >
          ×
        </button>
      </span>
      <template #right><WasTrue :state="state" /></template>
    </SentenceLine>
    <ConditionLines
      v-for="(member, i) in members"
      :key="i"
      :model-value="member"
      :path="`${path}/${group}/${i}`"
      :states="states"
      :problems="problems"
      :depth="depth + 1"
      :lead="i ? joints[group] : ''"
      removable
      @update:model-value="replace(i, $event)"
      @remove="drop(i)"
    />
  </template>
</template>

<style scoped>
.lead {
  margin-right: var(--space-6);
}
.truth {
  white-space: nowrap;
}
.truth i {
  display: inline-block;
  width: 10px;
  height: 10px;
  border: 2px solid var(--ink-soft);
  border-radius: 50%;
  margin-right: var(--space-6);
}
.truth .so {
  background: var(--verdigris);
  border-color: var(--verdigris);
}
.word {
  font-size: var(--type-small);
}
.edits {
  margin-left: var(--space-12);
  display: inline-flex;
  gap: var(--space-4);
}
.edits button {
  min-width: 24px;
  text-align: center;
}
.edits button:hover {
  color: var(--ink);
}
</style>
