<script setup lang="ts">
import { computed } from 'vue'
import type { Problem, Step } from '@/api/types'
import { join, propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'
import DurationToken from './DurationToken.vue'
import SentenceLine from './SentenceLine.vue'
import TokenPicker from './TokenPicker.vue'
import ValueToken from './ValueToken.vue'

/** Steps as lines; which kinds fit depends on where they stand. */
const steps = defineModel<Step[]>({ required: true })
const props = defineProps<{
  path: string
  problems: Problem[]
  kinds: Step['kind'][]
  /** Whether the rule lets go by itself, so that a hold needs no duration. */
  lasts?: boolean
  /** Index of the step that a run will take next. */
  running?: number
  numbered?: number
  self?: string
}>()
const home = useHome()

const kindWords: Record<Step['kind'], string> = {
  hold: 'hold',
  set: 'set',
  scene: 'apply scene',
  wait: 'wait',
  run: 'run rule',
}
const attendance = [
  { value: 'attended', title: 'only off: it is attended only' },
  { value: 'always', title: 'also on, with nobody there' },
]
const waiting = [
  { value: 'on', title: 'and go on' },
  { value: 'done', title: 'and go on once it is done' },
]
const kindChoices = computed(() => props.kinds.map((value) => ({ value, title: kindWords[value] })))
const properties = computed(() => propertyChoices(home.everything, home.rooms, (p) => p.writable))
const sceneChoices = computed(() => home.scenes.map((s) => ({ value: s.id, title: s.title })))
const ruleChoices = computed(() =>
  home.rules.filter((r) => r.id !== props.self).map((r) => ({ value: r.id, title: r.title })),
)

const problemAt = (i: number) =>
  props.problems.find((p) => p.path.startsWith(`${props.path}/${i}/`) || p.path === `${props.path}/${i}`)?.message
const propertyOf = (s: Step) => home.property(s.device, s.property)

function change(i: number, part: Partial<Step>) {
  steps.value = steps.value.map((s, n) => (n === i ? { ...s, ...part } : s))
}
function rekind(i: number, kind: Step['kind']) {
  const old = steps.value[i]!
  const stays =
    (kind === 'set' || kind === 'hold') && old.device
      ? { device: old.device, property: old.property, value: old.value }
      : {}
  steps.value = steps.value.map((s, n) => (n === i ? { kind, ...stays } : s))
}
function choose(i: number, value: string) {
  const [device, name] = split(value)
  const old = propertyOf(steps.value[i]!)
  const chosen = home.property(device, name)
  const keep = old && chosen && old.type === chosen.type && old.role === chosen.role
  const first = chosen?.type === 'boolean' ? true : undefined
  change(i, { device, property: name, value: keep ? steps.value[i]!.value : first })
}
function move(i: number, by: number) {
  const list = [...steps.value]
  const [taken] = list.splice(i, 1)
  list.splice(i + by, 0, taken!)
  steps.value = list
}
const drop = (i: number) => (steps.value = steps.value.filter((_, n) => n !== i))
const add = () => (steps.value = [...steps.value, { kind: props.kinds[0] ?? 'set' }])
</script>

<template>
  <SentenceLine v-for="(s, i) in steps" :key="i" :depth="1" :problem="problemAt(i)">
    <template #left>
      <b v-if="running === i" class="here">next</b>
      <template v-else>{{ (numbered ?? 0) + i + 1 }}</template>
    </template>
    <TokenPicker :model-value="s.kind" :choices="kindChoices" label="Step" @update:model-value="rekind(i, $event)" />
    {{ ' ' }}
    <template v-if="s.kind === 'set' || s.kind === 'hold'">
      <TokenPicker
        :model-value="s.device && s.property ? join(s.device, s.property) : undefined"
        :choices="properties"
        label="What to set"
        empty="choose a device"
        @update:model-value="choose(i, $event)"
      />
      <template v-if="propertyOf(s)">
        {{ s.kind === 'set' ? ' to ' : ' at ' }}
        <ValueToken
          :model-value="s.value"
          :property="propertyOf(s)"
          label="Value"
          @update:model-value="change(i, { value: $event })"
        />
      </template>
      <template v-if="home.device(s.device ?? '')?.attendedOnly">
        {{ ' ' }}
        <TokenPicker
          :model-value="s.unattended ? 'always' : 'attended'"
          :choices="attendance"
          label="Whether it may switch on unattended"
          @update:model-value="change(i, { unattended: $event === 'always' || undefined })"
        />
      </template>
      <template v-if="s.kind === 'set' && self">
        {{ ' ' }}
        <TokenPicker
          :model-value="s.untilDone ? 'done' : 'on'"
          :choices="waiting"
          label="Whether to wait until it is done"
          @update:model-value="change(i, { untilDone: $event === 'done' || undefined })"
        />
      </template>
      <template v-if="s.kind === 'hold' && (!lasts || s.forSeconds)">
        for
        <DurationToken
          :model-value="s.forSeconds || undefined"
          label="How long to hold"
          @update:model-value="change(i, { forSeconds: $event || undefined })"
        />
      </template>
      <template v-if="propertyOf(s)?.type === 'number'">
        <span class="soft">, </span>
        <DurationToken
          :model-value="s.fadeSeconds ?? 0"
          label="Fade"
          zero="at once"
          lead="fading "
          @update:model-value="change(i, { fadeSeconds: $event || undefined })"
        />
      </template>
    </template>
    <TokenPicker
      v-else-if="s.kind === 'scene'"
      :model-value="s.scene"
      :choices="sceneChoices"
      label="Scene"
      empty="choose a scene"
      @update:model-value="change(i, { scene: $event })"
    />
    <TokenPicker
      v-else-if="s.kind === 'run'"
      :model-value="s.rule"
      :choices="ruleChoices"
      label="Rule"
      empty="choose a rule"
      @update:model-value="change(i, { rule: $event })"
    />
    <DurationToken
      v-else
      :model-value="s.forSeconds || undefined"
      label="How long to wait"
      @update:model-value="change(i, { forSeconds: $event })"
    />
    <span class="edits">
      <button
        v-if="i > 0"
        type="button"
        class="plain soft"
        :aria-label="`Move step ${i + 1} up`"
        title="Move up"
        @click="move(i, -1)"
      >
        ↑
      </button>
      <button
        v-if="i < steps.length - 1"
        type="button"
        class="plain soft"
        :aria-label="`Move step ${i + 1} down`"
        title="Move down"
        @click="move(i, 1)"
      >
        ↓
      </button>
      <button type="button" class="plain soft" :aria-label="`Remove step ${i + 1}`" title="Remove" @click="drop(i)">
        ×
      </button>
    </span>
    <template #right>{{
      s.kind === 'set' || s.kind === 'hold' ? `now ${home.state(s.device, s.property)?.text ?? '–'}` : ''
    }}</template>
  </SentenceLine>
  <SentenceLine :depth="1" :problem="problems.find((p) => p.path === path)?.message">
    <button type="button" class="plain link add" @click="add">Add a step</button>
  </SentenceLine>
</template>

<style scoped>
.edits {
  margin-left: 12px;
  display: inline-flex;
  gap: 2px;
}
.edits button {
  min-width: 24px;
  text-align: center;
}
.edits button:hover {
  color: var(--ink);
}
.here {
  color: var(--ochre);
}
.add {
  font-size: 15px;
}
</style>
