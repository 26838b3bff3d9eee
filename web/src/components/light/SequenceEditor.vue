<script setup lang="ts">
import Button from 'primevue/button'
import { computed, useTemplateRef } from 'vue'
import type { Passage, Sequence, SequenceDocument } from '@/api/types'
import { act } from '@/lib/act'
import { useListDrag } from '@/lib/dragging'
import { useEditing } from '@/lib/editing'
import { duration } from '@/lib/format'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import DefinitionEditor from '@/components/documents/DefinitionEditor.vue'
import HiddenChoice from './HiddenChoice.vue'
import NoteField from '@/components/documents/NoteField.vue'
import UsedBy from '@/components/household/UsedBy.vue'
import OrderTools from '@/components/inputs/OrderTools.vue'
import DurationToken from '@/components/tokens/DurationToken.vue'
import NumberToken from '@/components/tokens/NumberToken.vue'
import RunningBar from '@/components/rule/RunningBar.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Scenes that follow each other: their order, the fade to each, how long it stays, and what comes after the last. */
const props = defineProps<{ sequence: Sequence }>()
const home = useHome()
const notices = useNotices()

const { edit, copy, set, remove } = useEditing('sequence', () => props.sequence, '/scenes')
const { saving } = edit
const running = computed(() => props.sequence.state.running === true)
const at = computed(() => (running.value ? (props.sequence.state.at ?? 0) : -1))
const passages = computed(() => copy.value?.passages ?? [])
const scenes = computed(() => home.scenes.map((s) => ({ value: s.id, title: s.title })))
const endings: { value: SequenceDocument['ending']; title: string }[] = [
  { value: 'repeat', title: 'begin again, until it is stopped' },
  { value: 'hold', title: 'stay at the last scene, until it is stopped' },
  { value: 'fadeOut', title: 'go out over the last fade' },
  { value: 'letGo', title: 'be again as they were before' },
]

const change = (i: number, part: Partial<Passage>) =>
  set({ passages: passages.value.map((p, k) => (k === i ? { ...p, ...part } : p)) })
const drop = (i: number) => set({ passages: passages.value.filter((_, k) => k !== i) })
const add = (scene: string) => set({ passages: [...passages.value, { scene, fadeSeconds: 5, staySeconds: 60 }] })
function move(from: number, to: number) {
  const all = [...passages.value]
  all.splice(to, 0, ...all.splice(from, 1))
  set({ passages: all })
}
const list = useTemplateRef<HTMLElement>('list')
useListDrag(list, { handle: '.handle', draggable: 'li' }, ({ oldIndex, newIndex }) => move(oldIndex, newIndex))

const start = () => notices.attempt(() => act.startSequence(props.sequence.id))
const stop = () => notices.attempt(() => act.stopSequence(props.sequence.id))
</script>

<template>
  <DefinitionEditor
    v-if="copy"
    :edit="edit"
    :title="copy.title"
    :pick="{ kind: 'sequence', id: sequence.id }"
    label="Name of the sequence"
    @update:title="set({ title: $event })"
    @remove="remove"
  >
    <template #state>{{ running ? 'running' : 'not running' }}</template>
    <template #buttons>
      <Button v-if="running" severity="secondary" label="Stop" @click="stop" />
      <Button label="Start" :disabled="saving !== 'saved' || !passages.length" @click="start" />
    </template>

    <p class="line soft" role="status">
      {{
        passages.length
          ? `One round takes ${duration(sequence.totalSeconds)}${copy.ending === 'repeat' ? ', and it repeats' : ''}.`
          : 'There is no scene in it yet.'
      }}
    </p>
    <ol ref="list" class="passages" aria-label="Scenes of the sequence">
      <li v-for="(p, i) in passages" :key="i" :class="{ now: at === i }">
        <span class="mono soft number">{{ i + 1 }}</span>
        <span>
          <TokenPicker
            :model-value="p.scene"
            :choices="scenes"
            label="Scene"
            empty="choose a scene"
            :invalid="!home.scene(p.scene)"
            @update:model-value="change(i, { scene: $event })"
          />
          <span class="soft"> at </span>
          <NumberToken
            :model-value="p.level ?? 100"
            label="Level"
            unit="%"
            :minimum="1"
            :maximum="200"
            @update:model-value="change(i, { level: $event === 100 ? undefined : $event })"
          />
          <span class="soft">, </span>
          <DurationToken
            :model-value="p.fadeSeconds"
            label="Fade"
            zero="at once"
            lead="fading "
            @update:model-value="change(i, { fadeSeconds: Math.min(3600, $event) })"
          />
          <span class="soft">, then staying </span>
          <DurationToken
            :model-value="p.staySeconds"
            label="Stay"
            zero="no time"
            @update:model-value="change(i, { staySeconds: Math.min(86_400, $event) })"
          />
          <RunningBar
            v-if="at === i && sequence.state.until"
            :since="sequence.state.since"
            :deadline="sequence.state.until"
          />
        </span>
        <OrderTools
          :what="`scene ${i + 1}`"
          :first="i === 0"
          :last="i === passages.length - 1"
          @up="move(i, i - 1)"
          @down="move(i, i + 1)"
          @out="drop(i)"
        />
      </li>
    </ol>
    <p class="line">
      <TokenPicker
        :model-value="undefined"
        :choices="scenes"
        label="Scene to add"
        empty="Add a scene"
        @update:model-value="add"
      />
    </p>
    <p class="line">
      <span class="soft">After the last, the lights </span>
      <TokenPicker
        :model-value="copy.ending"
        :choices="endings"
        label="After the last"
        @update:model-value="set({ ending: $event })"
      />
    </p>
    <p class="soft small">
      It lies over what is there and lets go of it again. A lamp that somebody sets meanwhile is left to them; a scene
      that takes its lights ends it, and so does a start of the hub.
    </p>
    <HiddenChoice :model-value="copy.hidden" @update:model-value="set({ hidden: $event })" />
    <NoteField :model-value="copy.note" @update:model-value="set({ note: $event })" />
    <UsedBy :uses="sequence.usedBy" />
    <EarlierVersions :id="sequence.id" kind="sequence" :revision="sequence.revision" />
  </DefinitionEditor>
</template>

<style scoped>
.line {
  padding: var(--space-12) 0 var(--space-4);
  font-size: var(--type-lead);
}
.passages {
  margin-top: var(--space-6);
  padding: 0;
  list-style: none;
}
.passages li {
  display: grid;
  grid-template-columns: 24px minmax(0, 1fr) auto;
  gap: var(--space-10);
  align-items: baseline;
  border-top: 1px solid var(--rule);
  border-left: 3px solid transparent;
  padding: var(--space-10) 0 var(--space-10) var(--space-8);
  font-size: var(--type-head);
}
.passages li.now {
  border-left-color: var(--verdigris);
}
.number {
  font-size: var(--type-small);
}
.small {
  font-size: var(--type-small);
  margin-top: var(--space-10);
}
</style>
