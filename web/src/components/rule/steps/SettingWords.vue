<script setup lang="ts">
import { computed } from 'vue'
import type { Property, Step } from '@/api/types'
import { sharedRoles } from '@/lib/groups'
import { likelyFirst, useSpoken } from '@/lib/likely'
import { join, propertyChoices, split } from '@/lib/sentences'
import { GROUP, MEMBER, setChoices, setOf } from '@/lib/steps'
import { useHome } from '@/stores/home'
import ExpressionToken from '@/components/tokens/ExpressionToken.vue'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ValueToken from '@/components/tokens/ValueToken.vue'
import StepDuration from './StepDuration.vue'

/** What a step sets, holds or ramps, and how. */
const step = defineModel<Step>({ required: true })
const props = defineProps<{
  /** Whether the rule lets go by itself, so that a hold needs no duration. */
  lasts?: boolean
  self?: string
  /** Id of the group of the each around. */
  member?: string
}>()
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

const memberGroup = computed(() => home.set(props.member))
const settable = (p: Property) => p.writable && (step.value.kind !== 'ramp' || p.type === 'number')
/** Scenes can be held by a rule that lasts, as values can. */
const SCENE = 'scene:'
const heldScenes = computed(() =>
  step.value.kind === 'hold'
    ? home.scenes.map((s) => ({ value: SCENE + s.id, title: `scene ${s.title}`, group: 'Scenes' }))
    : [],
)
const spoken = useSpoken()
const subjects = computed(() =>
  likelyFirst(
    [...heldScenes.value, ...setChoices(home.sets, home.everything, settable, memberGroup.value)],
    propertyChoices(home.everything, home.rooms, settable),
    spoken(),
    home.everything,
  ),
)
const subject = computed(() => {
  const { device, group, property, scene } = step.value
  if (scene !== undefined && step.value.kind === 'hold') return SCENE + scene
  if (!property) return undefined
  return group ? join(`${GROUP}${group}`, property) : device ? join(device, property) : undefined
})
function propertyOf(
  device: string | undefined,
  group: string | undefined,
  name: string | undefined,
): Property | undefined {
  const of = group ? home.set(group) : device === MEMBER ? memberGroup.value : undefined
  if (of) return sharedRoles(of, home.everything).find((s) => s.role === name)?.property
  return home.property(device, name)
}
const property = computed(() => propertyOf(step.value.device, step.value.group, step.value.property))

function choose(value: string) {
  if (value.startsWith(SCENE)) {
    const { kind, forSeconds, firm } = step.value
    step.value = { kind, scene: value.slice(SCENE.length), forSeconds, firm }
    return
  }
  const [device, name] = split(value)
  const group = setOf(device)
  const chosen = propertyOf(device, group, name)
  const keep = property.value && chosen && property.value.type === chosen.type && property.value.role === chosen.role
  const first = chosen?.type === 'boolean' ? true : undefined
  change({
    scene: undefined,
    device: group ? undefined : device,
    group,
    property: name,
    value: keep ? step.value.value : first,
    to: undefined,
    from: undefined,
    by: undefined,
    expression: undefined,
  })
}

type Way = 'to' | 'by' | 'chance' | 'from' | 'worked'
const way = computed<Way>(() =>
  step.value.expression !== undefined
    ? 'worked'
    : step.value.from
      ? 'from'
      : step.value.by
        ? 'by'
        : step.value.to !== undefined && step.value.to !== null
          ? 'chance'
          : 'to',
)
const ways = computed(() => {
  const number = property.value?.type === 'number'
  const fixed = { value: 'to' as Way, title: step.value.kind === 'hold' ? 'at' : 'to' }
  const other = [
    { value: 'from' as Way, title: 'to what is at' },
    { value: 'worked' as Way, title: 'to a formula:' },
  ]
  return number
    ? [fixed, { value: 'by' as Way, title: 'by' }, { value: 'chance' as Way, title: 'to, by chance between' }, ...other]
    : [fixed, ...other]
})
function goBy(to: Way) {
  const value = typeof step.value.value === 'number' ? step.value.value : 0
  change({
    from: to === 'from' ? { device: '', name: '' } : undefined,
    by: to === 'by' || undefined,
    to: to === 'chance' ? Math.max(value, property.value?.maximum ?? value) : undefined,
    expression: to === 'worked' ? '' : undefined,
    value:
      to === 'from' || to === 'worked'
        ? undefined
        : (step.value.value ?? (property.value?.type === 'number' ? 0 : undefined)),
  })
}
const froms = computed(() => propertyChoices(home.everything, home.rooms, (p) => p.type === property.value?.type))

const attendance = [
  { value: 'attended', title: 'only off: it is attended only' },
  { value: 'always', title: 'also on, with nobody there' },
]
const firmnesses = [
  { value: '', title: 'until a hand takes over' },
  { value: 'firm', title: 'firmly: a hand waits' },
  { value: 'safety', title: 'for safety: before all else' },
]
const waiting = [
  { value: 'on', title: 'and go on' },
  { value: 'done', title: 'and go on once it is done' },
]
</script>

<template>
  <TokenPicker
    :model-value="subject"
    :choices="subjects"
    label="What to set"
    lately
    empty="choose a device"
    @update:model-value="choose"
  />
  {{ ' ' }}
  <template v-if="property">
    <TokenPicker :model-value="way" :choices="ways" label="How to set it" @update:model-value="goBy" />
    {{ ' ' }}
    <TokenPicker
      v-if="step.from"
      :model-value="step.from.device ? join(step.from.device, step.from.name) : undefined"
      :choices="froms"
      label="Whose value"
      empty="choose a device"
      @update:model-value="change({ from: { device: split($event)[0], name: split($event)[1] } })"
    />
    <ExpressionToken
      v-else-if="step.expression !== undefined"
      :model-value="step.expression"
      label="Expression"
      empty="write an expression"
      @update:model-value="change({ expression: $event })"
    />
    <NumberToken
      v-else-if="step.by"
      :model-value="typeof step.value === 'number' ? step.value : undefined"
      :unit="property.unit"
      label="By how much"
      @update:model-value="change({ value: $event })"
    />
    <ValueToken
      v-else
      :model-value="step.value"
      :property="property"
      label="Value"
      @update:model-value="change({ value: $event })"
    />
    <template v-if="way === 'chance'">
      and
      <ValueToken
        :model-value="step.to"
        :property="property"
        label="At most"
        @update:model-value="change({ to: $event })"
      />
    </template>
  </template>
  <template v-if="home.device(step.device)?.attendedOnly">
    {{ ' ' }}
    <TokenPicker
      :model-value="step.unattended ? 'always' : 'attended'"
      :choices="attendance"
      label="Whether it may switch on unattended"
      @update:model-value="change({ unattended: $event === 'always' || undefined })"
    />
  </template>
  <template v-if="step.kind === 'set' && self && step.device && step.device !== MEMBER && !property?.own">
    {{ ' ' }}
    <TokenPicker
      :model-value="step.untilDone ? 'done' : 'on'"
      :choices="waiting"
      label="Whether to wait until it is done"
      @update:model-value="
        change({ untilDone: $event === 'done' || undefined, else: $event === 'done' ? step.else : undefined })
      "
    />
  </template>
  <template v-if="step.kind === 'hold' && (!lasts || step.forSeconds || step.formulas?.forSeconds !== undefined)">
    for
    <StepDuration v-model="step" field="forSeconds" label="How long to hold" />
  </template>
  <template v-if="step.kind === 'hold'">
    {{ ' ' }}
    <TokenPicker
      v-if="step.firm"
      :model-value="step.firm"
      :choices="firmnesses"
      label="How firmly it holds"
      @update:model-value="change({ firm: $event === '' ? undefined : ($event as 'firm' | 'safety') })"
    />
    <button
      v-else
      type="button"
      class="plain soft small"
      title="A hand's change waits below a firm hold"
      @click="change({ firm: 'firm' })"
    >
      firmly …
    </button>
  </template>
  <template v-if="step.kind === 'ramp'">
    over
    <StepDuration v-model="step" field="forSeconds" label="Over how long" />
    <template v-if="property?.role === 'brightness' || property?.role === 'colorTemperature'">
      <span class="soft">, </span>
      <TokenPicker
        :model-value="step.even ? 'even' : 'straight'"
        :choices="[
          { value: 'even', title: 'even to the eye' },
          { value: 'straight', title: 'by equal steps' },
        ]"
        label="How it goes"
        @update:model-value="change({ even: $event === 'even' || undefined })"
      />
    </template>
  </template>
  <template v-else-if="property?.type === 'number' && !property.own">
    <span class="soft">, </span>
    <StepDuration v-model="step" field="fadeSeconds" label="Fade" zero="at once" lead="fading " />
  </template>
</template>

<style scoped>
.small {
  font-size: var(--type-small);
}
</style>
