<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import type { Device, DeviceEvent, Link, LinkDocument, LinkSource, Property, Stage } from '@/api/types'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import DefinitionEditor from '@/components/documents/DefinitionEditor.vue'
import NoteField from '@/components/documents/NoteField.vue'
import ModesPicker from '@/components/inputs/ModesPicker.vue'
import UsedBy from '@/components/household/UsedBy.vue'
import ExpressionToken from '@/components/tokens/ExpressionToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { usedProperties } from '@/lib/devices'
import { useEditing } from '@/lib/editing'
import { gestureTitle, isPart } from '@/lib/keys'
import { grouped, join, propertyChoices, split } from '@/lib/sentences'
import { newStage, usualStages, type Ends } from '@/lib/stages'
import { useHome } from '@/stores/home'
import LinkEnds from './LinkEnds.vue'
import LinkStreams from './LinkStreams.vue'

/** A link: what feeds it, what is done with each value on the way, what it sets, and when. */
const props = defineProps<{ link: Link }>()
const home = useHome()

const { edit, copy, set, remove } = useEditing('link', () => props.link, '/links')

// Sources and targets.
const EVENT = 'event:'
const IS = '='
const sized = (p: Property) => p.type === 'number' || p.type === 'boolean'
/** What of an event can feed a link: its number, or each of its gestures, which count as one. */
const eventsOf = (d: Device, e: DeviceEvent) => {
  if (e.number) return [{ name: EVENT + e.name, title: e.title }]
  return (d.gestures?.[e.name]?.all ?? [])
    .filter((g) => !isPart(d, e, g))
    .map((g) => ({ name: `${EVENT}${e.name}${IS}${g}`, title: `${e.title} ${gestureTitle(e, g)}` }))
}
const sources = computed(() =>
  grouped(home.everything, home.rooms, (d) => [
    ...d.description.events.flatMap((e) => eventsOf(d, e)),
    ...usedProperties(d).filter(sized),
  ]),
)
const targets = computed(() => propertyChoices(home.everything, home.rooms, (p) => sized(p) && !!p.writable))
const chosenSources = computed(
  () => copy.value?.sources.map((s) => join(s.device, s.event ? nameOfEvent(s) : (s.property ?? ''))) ?? [],
)
const nameOfEvent = (s: LinkSource) => EVENT + s.event + (s.is ? IS + s.is : '')
/** What sources count as that carry no number. */
const counts = computed(() => copy.value?.sources.map((s) => (s.is ? (s.gives ?? 1) : undefined)))
const count = (i: number, gives: number) =>
  set({ sources: copy.value?.sources.map((s, k) => (k === i ? { ...s, gives } : s)) })
const chosenTargets = computed(() => copy.value?.targets.map((t) => join(t.device, t.property)) ?? [])
function sourceOf(value: string) {
  const [device, name] = split(value)
  if (!name.startsWith(EVENT)) return { device, property: name }
  const [event, is] = name.slice(EVENT.length).split(IS)
  return is ? { device, event, is } : { device, event }
}
function targetOf(value: string) {
  const [device, property] = split(value)
  return { device, property }
}
/** A list with a value at a place, or behind the last. */
const placedAt = <T,>(list: T[], i: number, value: T) =>
  i < list.length ? list.map((x, k) => (k === i ? value : x)) : [...list, value]

const ends = computed<Ends>(() => {
  const source = copy.value?.sources[0]
  const target = copy.value?.targets[0]
  return {
    source: home.property(source?.device, source?.property),
    turned: !!source?.event,
    pressed: !!source?.is,
    target: home.property(target?.device, target?.property),
  }
})
function choose(part: Partial<LinkDocument>) {
  set(part)
  const now = copy.value
  if (now && !now.stages.length && now.sources.length && now.targets.length) set({ stages: usualStages(ends.value) })
}
const chooseSource = (i: number, value: string) =>
  choose({ sources: placedAt(copy.value?.sources ?? [], i, sourceOf(value)) })
const chooseTarget = (i: number, value: string) =>
  choose({ targets: placedAt(copy.value?.targets ?? [], i, targetOf(value)) })
const without = <T,>(list: T[], i: number) => list.filter((_, k) => k !== i)

// Stages.
const stages = computed(() => copy.value?.stages ?? [])
const change = (i: number, part: Partial<Stage>) =>
  set({ stages: stages.value.map((s, k) => (k === i ? { ...s, ...part } : s)) })
const add = (kind: Stage['kind']) => set({ stages: [...stages.value, newStage(kind, ends.value)] })
function move(from: number, to: number) {
  const all = [...stages.value]
  all.splice(to, 0, ...all.splice(from, 1))
  set({ stages: all })
}

const ways = [
  { value: 'write', title: 'sets them, like a hand' },
  { value: 'hold', title: 'holds them, while it is on' },
]
const state = computed(() => {
  if (props.link.problems.length) return 'not at work'
  if (!props.link.enabled) return 'paused'
  return props.link.open ? 'at work' : 'waiting for its modes or its condition'
})
const problemAt = (path: string) => props.link.problems.find((p) => p.path.startsWith(path))?.message
</script>

<template>
  <DefinitionEditor
    v-if="copy"
    :edit="edit"
    :title="copy.title"
    label="Name of the link"
    @update:title="set({ title: $event })"
    @remove="remove"
  >
    <template #state>{{ state }}</template>
    <template #buttons>
      <Button
        :severity="copy.enabled ? 'secondary' : undefined"
        :label="copy.enabled ? 'Pause the link' : 'Resume the link'"
        @click="set({ enabled: !copy.enabled })"
      />
    </template>

    <LinkStreams
      :link="link"
      :copy="copy"
      @stage="change"
      @add="add"
      @drop="set({ stages: without(stages, $event) })"
      @move="move"
    >
      <template #source>
        <LinkEnds
          :values="chosenSources"
          :choices="sources"
          label="What feeds it"
          empty="choose what feeds it"
          removing="Remove this source"
          :problem="problemAt('sources')"
          :counts="counts"
          @count="count"
          @choose="chooseSource"
          @drop="set({ sources: without(copy.sources, $event) })"
        />
      </template>
      <template #targets>
        <LinkEnds
          :values="chosenTargets"
          :choices="targets"
          label="What it sets"
          empty="choose what it sets"
          removing="Remove this target"
          :problem="problemAt('targets')"
          @choose="chooseTarget"
          @drop="set({ targets: without(copy.targets, $event) })"
        />
      </template>
    </LinkStreams>

    <p class="line">
      It
      <TokenPicker
        :model-value="copy.holds ? 'hold' : 'write'"
        :choices="ways"
        label="How it sets"
        @update:model-value="set({ holds: $event === 'hold' || undefined })"
      />.
      <span class="soft">A hand elsewhere wins either way.</span>
    </p>
    <p class="line modes">
      <span class="soft">On in</span>
      <ModesPicker
        label="Modes in which it is on"
        :model-value="copy.modes"
        @update:model-value="set({ modes: $event })"
      />
      <span class="soft">and only while</span>
      <ExpressionToken
        :model-value="copy.only"
        label="Condition"
        empty="always"
        help="Yes or no; empty is always."
        @update:model-value="set({ only: $event || undefined })"
      />
      <span v-if="problemAt('only')" class="problem">{{ problemAt('only') }}</span>
    </p>
    <NoteField :model-value="copy.note" @update:model-value="set({ note: $event })" />
    <UsedBy :uses="link.usedBy" />
    <EarlierVersions :id="link.id" kind="link" :revision="link.revision" />
  </DefinitionEditor>
</template>

<style scoped>
.line {
  padding: var(--space-12) 0 0;
  font-size: var(--type-lead);
}
.modes {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
}
.problem {
  color: var(--ember);
  font-size: var(--type-small);
}
</style>
