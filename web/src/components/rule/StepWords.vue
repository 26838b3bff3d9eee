<script setup lang="ts">
import { computed } from 'vue'
import type { Property, Step } from '@/api/types'
import { sharedRoles } from '@/lib/groups'
import { join, propertyChoices, split } from '@/lib/sentences'
import { withFormula } from '@/lib/formulas'
import { GROUP, MEMBER, setChoices, setOf } from '@/lib/steps'
import { useHome } from '@/stores/home'
import ActionWords from './ActionWords.vue'
import DurationToken from '@/components/tokens/DurationToken.vue'
import ExpressionToken from '@/components/tokens/ExpressionToken.vue'
import NumberToken from '@/components/tokens/NumberToken.vue'
import OutsideWords from './OutsideWords.vue'
import ScriptBlock from './ScriptBlock.vue'
import ToldToken from '@/components/tokens/ToldToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ValueToken from '@/components/tokens/ValueToken.vue'

/** What one step says after its kind. */
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
type Given = 'forSeconds' | 'fadeSeconds' | 'atMostSeconds' | 'gapSeconds'
const byFormula = (field: Given, formula: string | undefined) =>
  change({ formulas: withFormula(step.value.formulas, field, formula) })
const sets = computed(() => ['set', 'hold', 'ramp'].includes(step.value.kind))

const memberGroup = computed(() => home.set(props.member))
const settable = (p: Property) => p.writable && (step.value.kind !== 'ramp' || p.type === 'number')
/** Scenes can be held by a rule that lasts, as values can. */
const SCENE = 'scene:'
const heldScenes = computed(() =>
  step.value.kind === 'hold'
    ? home.scenes.map((s) => ({ value: SCENE + s.id, title: `scene ${s.title}`, group: 'Scenes' }))
    : [],
)
const subjects = computed(() => [
  ...heldScenes.value,
  ...setChoices(home.sets, home.everything, settable, memberGroup.value),
  ...propertyChoices(home.everything, home.rooms, settable),
])
const speakers = computed(() => [
  ...setChoices(home.sets, home.everything, (p) => p.role === 'speech'),
  ...propertyChoices(home.everything, home.rooms, (p) => p.role === 'speech'),
])
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
    { value: 'worked' as Way, title: 'to what is worked out:' },
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

const sceneChoices = computed(() => home.scenes.map((s) => ({ value: s.id, title: s.title })))
const setTitles = computed(() =>
  home.sets.map((s) => ({ value: s.id, title: s.kind === 'Groups' ? s.title : `all ${s.title}`, group: s.kind })),
)
const sequences = computed(() => home.sequences.map((s) => ({ value: s.id, title: s.title })))
const ruleChoices = computed(() => {
  const others = home.rules.filter((r) => r.id !== props.self).map((r) => ({ value: r.id, title: r.title }))
  if (step.value.kind !== 'stop') return others
  const moving = sequences.value.map((s) => ({ ...s, title: `sequence ${s.title}` }))
  return [...(props.self ? [{ value: '', title: 'this run' }] : []), ...others, ...moving]
})
function chooseRule(id: string) {
  const sequence = home.sequence(id) !== undefined
  change({ rule: sequence ? undefined : id || undefined, sequence: sequence ? id : undefined })
}
const panels = computed(() => [
  { value: '', title: 'all panels' },
  ...home.dashboards.map((d) => ({ value: d.id, title: `panels of ${d.title}` })),
])
const remembers = computed(() => ['remember', 'putBack'].includes(step.value.kind))
const aboutValue = computed(() =>
  step.value.scene !== undefined
    ? SCENE + step.value.scene
    : step.value.group
      ? `${GROUP}${step.value.group}`
      : step.value.device,
)
const abouts = computed(() => [
  ...(remembers.value
    ? home.scenes.map((s) => ({ value: SCENE + s.id, title: `all that scene ${s.title} sets`, group: 'Scenes' }))
    : []),
  ...(memberGroup.value ? [{ value: MEMBER, title: 'the one whose turn it is' }] : []),
  ...home.sets.map((s) => ({ value: `${GROUP}${s.id}`, title: `all ${s.title}`, group: s.kind })),
  ...home.devices.map((d) => ({ value: d.id, title: d.title, group: home.roomTitle(d.room) || 'Without a room' })),
])
function about(value: string) {
  if (value.startsWith(SCENE)) {
    change({ scene: value.slice(SCENE.length), device: undefined, group: undefined })
    return
  }
  const group = setOf(value)
  change({ scene: undefined, device: group ? undefined : value, group })
}

type Ending = 'times' | 'while' | 'until' | 'ever'
const ending = computed<Ending>(() =>
  step.value.condition ? (step.value.until ? 'until' : 'while') : step.value.times ? 'times' : 'ever',
)
const endings: { value: Ending; title: string }[] = [
  { value: 'times', title: 'so many times:' },
  { value: 'while', title: 'while' },
  { value: 'until', title: 'until' },
  { value: 'ever', title: 'until it is stopped' },
]
function endBy(to: Ending) {
  change({
    condition: to === 'while' || to === 'until' ? (step.value.condition ?? {}) : undefined,
    until: to === 'until' || undefined,
    times: to === 'times' ? (step.value.times ?? 3) : undefined,
  })
}
</script>

<template>
  <template v-if="sets">
    <TokenPicker
      :model-value="subject"
      :choices="subjects"
      label="What to set"
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
      <DurationToken
        :model-value="step.forSeconds || undefined"
        label="How long to hold"
        :formula="step.formulas?.forSeconds"
        workable
        @update:model-value="change({ forSeconds: $event || undefined })"
        @update:formula="byFormula('forSeconds', $event)"
      />
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
      <DurationToken
        :model-value="step.forSeconds || undefined"
        label="Over how long"
        :formula="step.formulas?.forSeconds"
        workable
        @update:model-value="change({ forSeconds: $event || undefined })"
        @update:formula="byFormula('forSeconds', $event)"
      />
    </template>
    <template v-else-if="property?.type === 'number' && !property.own">
      <span class="soft">, </span>
      <DurationToken
        :model-value="step.fadeSeconds ?? 0"
        label="Fade"
        zero="at once"
        lead="fading "
        :formula="step.formulas?.fadeSeconds"
        workable
        @update:model-value="change({ fadeSeconds: $event || undefined })"
        @update:formula="byFormula('fadeSeconds', $event)"
      />
    </template>
  </template>
  <template v-else-if="step.kind === 'wait'">
    <TokenPicker
      :model-value="step.expression === undefined ? 'fixed' : 'worked'"
      :choices="[
        { value: 'fixed', title: 'for' },
        { value: 'worked', title: 'for as many seconds as is worked out:' },
      ]"
      label="How the time is given"
      @update:model-value="
        change({
          expression: $event === 'worked' ? '' : undefined,
          forSeconds: $event === 'worked' ? undefined : 60,
          toSeconds: undefined,
        })
      "
    />
    {{ ' ' }}
    <ExpressionToken
      v-if="step.expression !== undefined"
      :model-value="step.expression"
      label="How many seconds to wait"
      empty="write an expression"
      @update:model-value="change({ expression: $event })"
    />
    <DurationToken
      v-else
      :model-value="step.forSeconds || undefined"
      label="How long to wait"
      @update:model-value="change({ forSeconds: $event })"
    />
    {{ ' ' }}
    <template v-if="step.toSeconds">
      to
      <DurationToken
        :model-value="step.toSeconds"
        label="At longest"
        @update:model-value="change({ toSeconds: $event || undefined })"
      />
      <span class="soft"> by chance</span>
    </template>
    <button
      v-else-if="step.expression === undefined"
      type="button"
      class="plain link small"
      @click="change({ toSeconds: (step.forSeconds ?? 0) * 2 || 60 })"
    >
      by chance
    </button>
  </template>
  <template v-else-if="step.kind === 'until'">
    <span class="soft">what follows is so, </span>
    <DurationToken
      :model-value="step.atMostSeconds ?? 0"
      label="At most"
      zero="however long it takes"
      lead="for at most "
      :formula="step.formulas?.atMostSeconds"
      workable
      @update:model-value="change({ atMostSeconds: $event || undefined })"
      @update:formula="byFormula('atMostSeconds', $event)"
    />
  </template>
  <template v-else-if="step.kind === 'repeat'">
    <TokenPicker :model-value="ending" :choices="endings" label="How often" @update:model-value="endBy" />
    {{ ' ' }}
    <NumberToken
      v-if="ending === 'times'"
      :model-value="step.times"
      label="How many times"
      :minimum="1"
      :maximum="10000"
      @update:model-value="change({ times: Math.round($event) })"
    />
  </template>
  <template v-else-if="step.kind === 'each'">
    <TokenPicker
      :model-value="step.group"
      :choices="setTitles"
      label="Group or room"
      empty="choose a group or a room"
      @update:model-value="change({ group: $event })"
    />
    <span class="soft">, </span>
    <DurationToken
      :model-value="step.gapSeconds ?? 0"
      label="Gap"
      zero="one right after the other"
      lead="with a gap of "
      :formula="step.formulas?.gapSeconds"
      workable
      @update:model-value="change({ gapSeconds: $event || undefined })"
      @update:formula="byFormula('gapSeconds', $event)"
    />
  </template>
  <template v-else-if="step.kind === 'remember' || step.kind === 'putBack'">
    <TokenPicker
      :model-value="aboutValue"
      :choices="abouts"
      label="What to remember"
      empty="choose a device"
      @update:model-value="about"
    />
  </template>
  <ActionWords v-else-if="step.kind === 'action' || step.kind === 'play'" v-model="step" />
  <ScriptBlock
    v-else-if="step.kind === 'script'"
    :model-value="step.script"
    @update:model-value="change({ script: $event })"
  />
  <OutsideWords v-else-if="step.kind === 'web' || step.kind === 'publish' || step.kind === 'program'" v-model="step" />
  <template v-else-if="step.kind === 'say'">
    <TokenPicker
      :model-value="subject"
      :choices="speakers"
      label="What speaks"
      empty="choose a speaker"
      @update:model-value="choose"
    />
    says
    <ToldToken
      :model-value="step.text"
      label="What is said"
      empty="something"
      :maximum="400"
      @update:model-value="change({ text: $event })"
    />
  </template>
  <template v-else-if="step.kind === 'notify' || step.kind === 'show' || step.kind === 'question'">
    <ToldToken
      :model-value="step.text"
      :label="{ notify: 'What is told', show: 'What is shown', question: 'What is asked' }[step.kind]"
      empty="say what"
      :maximum="500"
      @update:model-value="change({ text: $event })"
    />
    <template v-if="step.kind === 'question'">
      <span class="soft">, waiting </span>
      <DurationToken
        :model-value="step.atMostSeconds ?? 0"
        label="At most"
        zero="until somebody answers"
        lead="for at most "
        :formula="step.formulas?.atMostSeconds"
        workable
        @update:model-value="change({ atMostSeconds: $event || undefined })"
        @update:formula="byFormula('atMostSeconds', $event)"
      />
    </template>
    <template v-if="step.kind === 'show'">
      <span class="soft"> on </span>
      <TokenPicker
        :model-value="step.dashboard ?? ''"
        :choices="panels"
        label="Which panels"
        @update:model-value="change({ dashboard: $event || undefined })"
      />
      {{ ' ' }}
      <DurationToken
        :model-value="step.forSeconds ?? 0"
        label="For how long"
        zero="until somebody has seen it"
        lead="for "
        :formula="step.formulas?.forSeconds"
        workable
        @update:model-value="change({ forSeconds: $event || undefined })"
        @update:formula="byFormula('forSeconds', $event)"
      />
    </template>
  </template>
  <TokenPicker
    v-else-if="step.kind === 'scene'"
    :model-value="step.scene"
    :choices="sceneChoices"
    label="Scene"
    empty="choose a scene"
    @update:model-value="change({ scene: $event })"
  />
  <TokenPicker
    v-else-if="step.kind === 'sequence'"
    :model-value="step.sequence"
    :choices="sequences"
    label="Sequence"
    empty="choose a sequence"
    @update:model-value="change({ sequence: $event })"
  />
  <TokenPicker
    v-else-if="step.kind === 'run' || step.kind === 'stop' || step.kind === 'pause' || step.kind === 'resume'"
    :model-value="step.sequence ?? step.rule ?? (step.kind === 'stop' ? '' : undefined)"
    :choices="ruleChoices"
    :label="step.sequence ? 'Sequence' : 'Rule'"
    empty="choose a rule"
    @update:model-value="chooseRule"
  />
</template>

<style scoped>
.small {
  font-size: 14px;
}
</style>
