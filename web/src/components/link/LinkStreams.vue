<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, useTemplateRef } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { Link, LinkDocument, Sample, Stage } from '@/api/types'
import { useListDrag } from '@/lib/dragging'
import { useFlowing } from '@/lib/flowing'
import { stageChoices } from '@/lib/stages'
import { delay, placed, rate } from '@/lib/streams'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import OrderTools from '@/components/inputs/OrderTools.vue'
import StageWords from './StageWords.vue'
import StreamLine from './StreamLine.vue'

/**
 * The way through a link, from its source by its stages to its targets, each with what passes there along one axis of time.
 * What was seen can be tried on the stages while they are changed.
 */
const props = defineProps<{ link: Link; copy: LinkDocument }>()
const emit = defineEmits<{
  stage: [number, Partial<Stage>]
  add: [Stage['kind']]
  drop: [number]
  move: [number, number]
}>()
const home = useHome()
const { samples, span, seconds, stopped, oldest, now, pause, clear } = useFlowing(() => props.link.id)

const MS = 1000
const spans = [
  { value: '10', title: '10 s' },
  { value: '60', title: '1 min' },
  { value: '300', title: '5 min' },
]
const at = (place: Sample['place'], index = 0) => placed(samples.value, place, index)
const target = computed(() => props.copy.targets[0])
const range = computed<[number, number] | undefined>(() => {
  const p = home.property(target.value?.device, target.value?.property)
  return p?.type === 'number' && p.minimum !== p.maximum ? [p.minimum ?? 0, p.maximum ?? 0] : undefined
})
const lastOf = (list: Sample[]) => list.findLast((s) => Date.parse(s.at) <= span.value.to)?.value
const round = (n: number | undefined) => (n === undefined ? '–' : String(Math.round(n * 100) / 100))

/** A stretch of what came in, on which changed stages are tried. */
const stretch = shallowRef<Sample[]>()
const trial = shallowRef<Sample[]>([])
const refused = ref('')
const TRIED_AT_MOST = 2000
function take() {
  const seen = at('source').filter((s) => Date.parse(s.at) >= span.value.from && Date.parse(s.at) <= span.value.to)
  stretch.value = stretch.value ? undefined : seen.slice(-TRIED_AT_MOST)
  if (stretch.value && stopped.value === undefined) pause()
}
const tried = (place: Sample['place'], index = 0) => (stretch.value ? placed(trial.value, place, index) : [])
watchDebounced(
  [stretch, () => JSON.stringify(props.copy.stages)],
  async () => {
    trial.value = []
    refused.value = ''
    if (!stretch.value?.length) return
    try {
      const began = at('target').find((s) => Date.parse(s.at) >= span.value.from)?.value ?? 0
      trial.value = await ask(
        api.POST('/api/links/try', {
          body: { stages: props.copy.stages ?? [], samples: stretch.value, at: began },
        }),
      )
    } catch (error) {
      refused.value = reasonOf(error)
    }
  },
  { debounce: 150 },
)
const problemAt = (path: string) => props.link.problems.find((p) => p.path.startsWith(path))?.message
/** What stages pass values on as they are, drawn as strokes; others change them, drawn as a line. */
const passes = (s: Stage) => ['changes', 'deadBand', 'limit', 'delay'].includes(s.kind)
const list = useTemplateRef<HTMLElement>('list')
useListDrag(list, { handle: '.handle', draggable: 'li.stage' }, ({ oldIndex, newIndex }) =>
  emit('move', oldIndex, newIndex),
)
</script>

<template>
  <section aria-label="What goes through">
    <h2>
      What goes through <span class="soft">· the last</span>
      <TokenPicker
        :model-value="String(seconds)"
        :choices="spans"
        label="How far back"
        @update:model-value="seconds = Number($event)"
      />
      <span class="tools">
        <button type="button" class="plain link" :aria-pressed="stopped !== undefined" @click="pause">
          {{ stopped === undefined ? 'Pause' : 'Go on' }}
        </button>
        <button type="button" class="plain link" @click="clear">Clear</button>
        <button
          type="button"
          class="plain link"
          :aria-pressed="!!stretch"
          :disabled="!at('source').length"
          @click="take"
        >
          {{ stretch ? 'End the trial' : 'Try stages on this stretch' }}
        </button>
      </span>
    </h2>
    <p v-if="stopped !== undefined" class="back">
      <label>
        <span class="soft">Step back</span>
        <input
          type="range"
          :min="Math.min(oldest + seconds * MS, now)"
          :max="now"
          :value="stopped"
          step="100"
          @input="stopped = Number(($event.target as HTMLInputElement).value)"
        />
        <span class="mono">{{ home.times.exact(new Date(stopped).toISOString()) }}</span>
      </label>
    </p>
    <p v-if="stretch" class="soft small" role="status">
      {{
        refused ||
        `Dashed: what these ${stretch.length} values would become with the stages as they are now. Change them and watch.`
      }}
    </p>
    <ol ref="list">
      <li>
        <span class="what"><slot name="source" /></span>
        <StreamLine label="Source" :samples="at('source')" :span="span" strokes />
        <span class="figures mono"
          ><span>{{ rate(at('source'), span.to) }} /s</span><b>{{ round(lastOf(at('source'))) }}</b></span
        >
      </li>
      <li v-for="(s, i) in copy.stages" :key="i" class="stage" :class="{ wrong: problemAt(`stages/${i}`) }">
        <span class="what">
          <StageWords :stage="s" @change="emit('stage', i, $event)" />
          <OrderTools
            :what="`stage ${i + 1}`"
            :first="i === 0"
            :last="i === copy.stages.length - 1"
            @up="emit('move', i, i - 1)"
            @down="emit('move', i, i + 1)"
            @out="emit('drop', i)"
          />
          <span v-if="problemAt(`stages/${i}`)" class="problem">{{ problemAt(`stages/${i}`) }}</span>
        </span>
        <StreamLine
          :label="`After stage ${i + 1}`"
          :samples="at('stage', i)"
          :trial="tried('stage', i)"
          :span="span"
          :strokes="passes(s)"
        />
        <span class="figures mono"
          ><span>{{ rate(at('stage', i), span.to) }} /s</span><b>{{ round(lastOf(at('stage', i))) }}</b></span
        >
      </li>
      <li class="adding">
        <TokenPicker
          :model-value="undefined"
          :choices="stageChoices"
          label="Stage to add"
          empty="Add a stage"
          verb
          @update:model-value="emit('add', $event)"
        />
      </li>
      <li>
        <span class="what"><slot name="targets" /></span>
        <StreamLine
          label="Set at the target"
          :samples="at('target')"
          :trial="tried('target')"
          :span="span"
          :range="range"
          warm
        />
        <span class="figures mono"
          ><span>{{ rate(at('target'), span.to) }} /s</span><b>{{ round(lastOf(at('target'))) }}</b
          ><span v-if="delay(at('confirmed'))" title="From command to confirmation"
            >{{ delay(at('confirmed')) }} ms</span
          ></span
        >
      </li>
    </ol>
  </section>
</template>

<style scoped>
h2 {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-8);
  align-items: baseline;
}
.tools {
  display: flex;
  gap: var(--space-16);
  margin-left: auto;
  font-weight: normal;
}
.back label {
  display: flex;
  gap: var(--space-10);
  align-items: center;
}
.back input {
  flex: 1;
  accent-color: var(--verdigris);
}
.small {
  font-size: var(--type-small);
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--ink);
}
li {
  display: grid;
  grid-template-columns: minmax(180px, 240px) minmax(0, 1fr) 72px;
  gap: var(--space-14);
  align-items: center;
  padding: var(--space-8) 0;
  border-bottom: 1px solid var(--rule);
}
.what {
  display: grid;
  gap: var(--space-4);
}
.stage .what {
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: start;
}
.problem {
  grid-column: 1 / -1;
}
.figures {
  display: grid;
  justify-items: end;
  font-size: var(--type-small);
}
.adding {
  display: block;
}
.wrong {
  border-left: 3px solid var(--ember);
  padding-left: var(--space-8);
}
.problem {
  color: var(--ember);
  font-size: var(--type-small);
}
@media (max-width: 720px) {
  li {
    grid-template-columns: minmax(0, 1fr) 72px;
  }
  .what {
    grid-column: 1 / -1;
  }
}
</style>
