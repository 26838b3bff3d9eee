<script setup lang="ts">
import Button from 'primevue/button'
import ToggleSwitch from 'primevue/toggleswitch'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { Effect, Sequence, SequenceDocument } from '@/api/types'
import DefinitionEditor from '@/components/documents/DefinitionEditor.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import HiddenChoice from './HiddenChoice.vue'
import NoteField from '@/components/documents/NoteField.vue'
import UsedBy from '@/components/household/UsedBy.vue'
import RunningBar from '@/components/rule/RunningBar.vue'
import DurationToken from '@/components/tokens/DurationToken.vue'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import MovingStrip from '@/instruments/MovingStrip.vue'
import { act } from '@/lib/act'
import { useEditing } from '@/lib/editing'
import { effectChoices, effectTraits, travelChoices } from '@/lib/moving'
import { useWorkedOut } from '@/lib/workedOut'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import LampsOf from './LampsOf.vue'
import MovingColors from './MovingColors.vue'

/** Light that moves by itself: how, of which lamps, how fast and bright, and what it is going to do. */
const props = defineProps<{ sequence: Sequence }>()
const home = useHome()
const notices = useNotices()
const { edit, copy, set, remove } = useEditing('sequence', () => props.sequence, '/moving')
const { saving } = edit

const effect = computed(() => copy.value!.effect!)
const traits = computed(() => effectTraits[effect.value.kind])
const change = (part: Partial<Effect>) => set({ effect: { ...effect.value, ...part } })
const choose = (kind: Effect['kind']) =>
  set({
    effect: { kind, lights: effect.value.lights, lamps: effect.value.lamps, allStop: effect.value.allStop },
    ending: kind === 'sunrise' ? 'hold' : copy.value!.ending,
  })
const { shown: ahead, wrong } = useWorkedOut(
  () => copy.value?.effect,
  async (body) =>
    body?.lights?.length || body?.lamps?.length ? ask(api.POST('/api/sequences/ahead', { body })) : undefined,
)

const lights = computed(() => home.lights.map((l) => ({ id: l.id, title: l.title })))
const lamps = computed(() => home.devices.filter((d) => d.light).map((d) => ({ id: d.id, title: d.title })))
const titled = (id: string) => home.device(id)?.title ?? 'a removed device'
const left = computed(() => (ahead.value?.left ?? []).map(titled))

const running = computed(() => props.sequence.state.running === true)
const start = () => notices.attempt(() => act.startSequence(props.sequence.id))
const stop = () => notices.attempt(() => act.stopSequence(props.sequence.id))

const hands = [
  { value: 'lamp', title: 'moves no more', note: 'the others go on' },
  { value: 'all', title: 'ends it for all' },
]
const movers = [
  { value: 'hub', title: 'the hub moves all', note: 'with these colors, at this speed' },
  { value: 'lamps', title: 'they do it themselves', note: 'in their own way, with nothing sent meanwhile' },
]
const endings: { value: SequenceDocument['ending']; title: string; note?: string }[] = [
  { value: 'letGo', title: 'are again as they were before', note: 'it lies over what is on' },
  { value: 'hold', title: 'stay as they are', note: 'it replaces what is on' },
  { value: 'fadeOut', title: 'go out' },
]
const FULL = 100
</script>

<template>
  <DefinitionEditor
    v-if="copy?.effect"
    :edit="edit"
    :title="copy.title"
    :pick="{ kind: 'sequence', id: sequence.id }"
    label="Name of the moving light"
    @update:title="set({ title: $event })"
    @remove="remove"
  >
    <template #state>{{ running ? 'running' : 'not running' }}</template>
    <template #buttons>
      <Button v-if="running" severity="secondary" label="Stop" @click="stop" />
      <Button
        :label="running ? 'Start anew' : 'Start'"
        :disabled="saving !== 'saved' || !ahead?.lamps.length"
        @click="start"
      />
    </template>
    <RunningBar v-if="running && sequence.state.until" :since="sequence.state.since" :deadline="sequence.state.until" />
    <p class="line">
      A
      <TokenPicker
        :model-value="effect.kind"
        :choices="effectChoices"
        label="How it moves"
        @update:model-value="choose"
      />
      <template v-if="traits.round">
        <span class="soft"> · {{ traits.round.toLowerCase() }} takes </span>
        <DurationToken
          :model-value="effect.roundSeconds ?? ahead?.roundSeconds ?? 0"
          label="How long a round takes"
          @update:model-value="change({ roundSeconds: $event || undefined })"
        />
      </template>
      <template v-else>
        <span class="soft"> · at </span>
        <NumberToken
          :model-value="effect.pace ?? FULL"
          label="Speed"
          unit="%"
          :minimum="1"
          :maximum="1000"
          @update:model-value="change({ pace: $event === FULL ? undefined : $event })"
        />
        <span class="soft"> of its usual speed</span>
      </template>
      <template v-if="traits.travels">
        <span class="soft">, </span>
        <TokenPicker
          :model-value="effect.travel || ahead?.travel"
          :choices="travelChoices"
          label="How its lamps go together"
          @update:model-value="change({ travel: $event })"
        />
      </template>
    </p>
    <LampsOf
      class="line"
      :of="effect.lights ?? []"
      :of-choices="lights"
      of-label="Rooms whose lamps move"
      of-empty="choose a room"
      :besides="effect.lamps ?? []"
      :besides-choices="lamps"
      besides-label="Lamps that move besides"
      @of="change({ lights: $event.length ? $event : undefined })"
      @besides="change({ lamps: $event })"
    />
    <p class="line">
      <span class="soft">In </span>
      <MovingColors :palette="effect.palette" :swatches="ahead?.palette ?? []" @change="change({ palette: $event })" />
    </p>
    <p class="line">
      <span class="soft">As bright as </span>
      <NumberToken
        :model-value="effect.level ?? FULL"
        label="Level at its brightest"
        unit="%"
        :minimum="1"
        :maximum="100"
        @update:model-value="change({ level: $event === FULL ? undefined : $event })"
      />
      <span class="soft">, its brightness moving by </span>
      <NumberToken
        :model-value="effect.depth ?? ahead?.depth ?? 0"
        label="Depth"
        unit="%"
        :minimum="0"
        :maximum="100"
        @update:model-value="change({ depth: $event })"
      />
      <span class="soft">, </span>
      <DurationToken
        :model-value="effect.seconds ?? 0"
        label="After how long it ends"
        :zero="effect.kind === 'sunrise' ? 'until the sun is up' : 'until it is stopped'"
        lead="for "
        @update:model-value="change({ seconds: $event ? Math.min(86_400, $event) : undefined })"
      />
    </p>
    <p class="line">
      <span class="soft">A lamp that a hand takes </span>
      <TokenPicker
        :model-value="effect.allStop ? 'all' : 'lamp'"
        :choices="hands"
        label="What a hand does"
        @update:model-value="change({ allStop: $event === 'all' || undefined })"
      />
      <span class="soft">. At the end its lamps </span>
      <TokenPicker
        :model-value="copy.ending"
        :choices="endings"
        label="At the end"
        @update:model-value="set({ ending: $event })"
      />
      <span class="soft">.</span>
    </p>
    <p v-if="ahead?.able.length" class="line">
      <span class="soft">{{ ahead.able.map(titled).join(', ') }} can do it without the hub: </span>
      <TokenPicker
        :model-value="effect.byLamps ? 'lamps' : 'hub'"
        :choices="movers"
        label="Who moves lamps that can do it themselves"
        @update:model-value="change({ byLamps: $event === 'lamps' || undefined })"
      />
      <span class="soft">.</span>
    </p>
    <label v-if="traits.flashes" class="line flashing">
      <ToggleSwitch
        :model-value="effect.flashing ?? false"
        @update:model-value="change({ flashing: $event || undefined })"
      />
      <span>
        May flash more than three times a second
        <small class="soft"
          >Off, nothing flashes faster (WCAG 2.3.1): that can harm people with photosensitive epilepsy.</small
        >
      </span>
    </label>

    <h2 class="part">What it is going to do</h2>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <p v-else-if="!ahead" class="soft">Choose a room, or lamps.</p>
    <template v-else>
      <MovingStrip :ahead="ahead" :titles="titled" />
      <p class="soft small">
        At most {{ Math.round(ahead.framesPerSecond * 10) / 10 }} times a second, as fast as each connection takes it. A
        scene that takes a lamp counts as a hand does; a start of the hub ends it.
        <template v-if="left.length"
          >{{ left.join(', ') }} only switch{{ left.length === 1 ? 'es' : '' }}, and stay{{
            left.length === 1 ? 's' : ''
          }}
          as {{ left.length === 1 ? 'it is' : 'they are' }}.</template
        >
      </p>
    </template>
    <HiddenChoice :model-value="copy.hidden" @update:model-value="set({ hidden: $event })" />
    <NoteField :model-value="copy.note" @update:model-value="set({ note: $event })" />
    <UsedBy :uses="sequence.usedBy" />
    <EarlierVersions :id="sequence.id" kind="sequence" :revision="sequence.revision" />
  </DefinitionEditor>
</template>

<style scoped>
.line {
  padding: var(--space-12) 0 0;
  font-size: var(--type-lead);
}
.flashing {
  display: flex;
  gap: var(--space-12);
  align-items: center;
}
.flashing small {
  display: block;
}
.part {
  padding: var(--space-26) 0 var(--space-8);
}
.wrong {
  color: var(--ember);
}
.small {
  font-size: var(--type-small);
}
</style>
