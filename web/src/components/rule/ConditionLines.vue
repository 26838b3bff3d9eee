<script setup lang="ts">
import { computed } from 'vue'
import type { Comparison, Condition, ConditionState, Problem } from '@/api/types'
import { comparisons, join, propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'
import SentenceLine from './SentenceLine.vue'
import TokenPicker from './TokenPicker.vue'
import ValueToken from './ValueToken.vue'

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
const property = computed(() => home.property(condition.value.device, condition.value.property))
const choices = computed(() => propertyChoices(home.everything, home.rooms))
const problem = computed(
  () =>
    props.problems.find((p) => p.path === props.path || (!group.value && p.path.startsWith(`${props.path}/`)))?.message,
)
const subject = computed(() =>
  condition.value.device && condition.value.property
    ? join(condition.value.device, condition.value.property)
    : undefined,
)
const now = computed(() => {
  const s = home.state(condition.value.device, condition.value.property)
  return s ? `now ${s.text}` : ''
})

function choose(value: string) {
  const [device, name] = split(value)
  const chosen = home.property(device, name)
  const number = chosen?.type === 'number'
  condition.value = {
    device,
    property: name,
    comparison: number ? 'below' : 'is',
    value: chosen?.type === 'boolean' ? true : undefined,
  }
}

function regroup(to: Group) {
  condition.value = { [to]: members.value }
}

function replace(i: number, member: Condition) {
  if (group.value) condition.value = { [group.value]: members.value.map((m, n) => (n === i ? member : m)) }
}

function drop(i: number) {
  if (!group.value) return
  const rest = members.value.filter((_, n) => n !== i)
  if (rest.length === 0) emit('remove')
  else if (rest.length === 1 && group.value !== 'none') condition.value = rest[0]!
  else condition.value = { [group.value]: rest }
}

function add() {
  if (group.value) condition.value = { [group.value]: [...members.value, {}] }
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
    <TokenPicker
      :model-value="subject"
      :choices="choices"
      label="Device and property"
      empty="choose a device"
      @update:model-value="choose"
    />
    {{ ' ' }}
    <template v-if="property">
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
        @update:model-value="condition = { ...condition, value: $event }"
      />
    </template>
    <span class="edits">
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
      <template v-if="state?.since && state.truth">since {{ home.times.exact(state.since) }}</template>
      <template v-else-if="state">{{ now }}</template>
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
      <span class="edits">
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
  margin-right: 6px;
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
  margin-right: 6px;
}
.truth .so {
  background: var(--verdigris);
  border-color: var(--verdigris);
}
.edits {
  margin-left: 12px;
  display: inline-flex;
  gap: 4px;
}
.edits button {
  min-width: 24px;
  text-align: center;
}
.edits button:hover {
  color: var(--ink);
}
</style>
