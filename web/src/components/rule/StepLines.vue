<script setup lang="ts">
import { computed, inject, nextTick, useTemplateRef } from 'vue'
import type { ConditionState, Problem, Step } from '@/api/types'
import { act } from '@/lib/act'
import { useListDrag } from '@/lib/dragging'
import { stepMoves } from '@/lib/stepMoves'
import { hasOtherwise, newStep, otherwiseTitle, stepChoices } from '@/lib/steps'
import { useClipboard } from '@/stores/clipboard'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import ConditionLines from './ConditionLines.vue'
import SentenceLine from '@/components/tokens/SentenceLine.vue'
import StepWords from './StepWords.vue'
import TextToken from '@/components/tokens/TextToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Steps as lines, with those within them; which kinds fit depends on where they stand. */
const steps = defineModel<Step[]>({ required: true })
const props = withDefaults(
  defineProps<{
    path: string
    problems: Problem[]
    kinds: Step['kind'][]
    /** Whether the rule lets go by itself, so that a hold needs no duration. */
    lasts?: boolean
    /** Paths of the steps at which runs are now. */
    running?: string[]
    numbered?: string
    self?: string
    states?: ConditionState[]
    depth?: number
    /** Id of the group of the each around. */
    member?: string
    /** What the line that adds a step says. */
    adding?: string
  }>(),
  {
    running: () => [],
    numbered: '',
    self: undefined,
    states: () => [],
    depth: 1,
    member: undefined,
    adding: 'Add a step',
  },
)
const home = useHome()
const clipboard = useClipboard()
const notices = useNotices()

/** What the lists of steps within these share with them. */
const common = computed(() => {
  const { problems, kinds, lasts, running, self, states, member } = props
  return { problems, kinds, lasts, running, self, states, member }
})
const kindChoices = computed(() => stepChoices(props.kinds))
const number = (i: number) => `${props.numbered}${i + 1}`
const pathOf = (i: number) => `${props.path}/${i}`

/** What is wrong with a step itself, not with one within it. */
function problemAt(i: number): string | undefined {
  const within = /^\/(then|else|do|branches|condition)\//
  return props.problems.find((p) => {
    if (p.path === pathOf(i)) return true
    return p.path.startsWith(`${pathOf(i)}/`) && !within.test(p.path.slice(pathOf(i).length) + '/')
  })?.message
}

const replace = (i: number, step: Step) => (steps.value = steps.value.map((s, n) => (n === i ? step : s)))
const change = (i: number, part: Partial<Step>) => replace(i, { ...steps.value[i]!, ...part })
const rekind = (i: number, kind: Step['kind']) => replace(i, newStep(kind, steps.value[i]))

// Steps are moved in the document as a whole, since they go from one list into another.
const moves = inject(stepMoves)
const list = useTemplateRef<HTMLElement>('list')
useListDrag(
  list,
  {
    handle: '.grip',
    draggable: '.step',
    group: 'steps',
    ghostClass: 'ghost',
    invertSwap: true,
    emptyInsertThreshold: 12,
  },
  ({ from, oldIndex, to, newIndex }) => {
    const down = from === to && newIndex > oldIndex // the place to put it counts the list as it was
    moves?.move(
      { list: from.dataset.steps!, index: oldIndex },
      { list: to.dataset.steps!, index: newIndex + (down ? 1 : 0) },
    )
  },
)
/** Moves a step by keys, and keeps to it: the focus goes with it. */
async function nudge(i: number, by: -1 | 1) {
  const button = (document.activeElement as HTMLElement | null)?.dataset.move
  const path = moves?.nudge({ list: props.path, index: i }, by)
  if (!path) return
  await nextTick()
  const line = document.querySelector(`[data-step="${path}"] > .line`)
  const target = line?.querySelector<HTMLElement>(button ? `[data-move="${button}"]` : 'button')
  ;(target ?? line?.querySelector<HTMLElement>('button'))?.focus()
}
function onKey(event: KeyboardEvent, i: number) {
  if (!event.altKey || event.defaultPrevented || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
  event.preventDefault()
  event.stopPropagation()
  void nudge(i, event.key === 'ArrowUp' ? -1 : 1)
}
const drop = (i: number) => (steps.value = steps.value.filter((_, n) => n !== i))
const add = () => (steps.value = [...steps.value, newStep(props.kinds[0] ?? 'set')])
const paste = () => (steps.value = [...steps.value, ...clipboard.give()])
function cut(i: number) {
  clipboard.take([steps.value[i]!])
  drop(i)
}
function branch(i: number, b: number, list: Step[]) {
  change(i, { branches: (steps.value[i]!.branches ?? []).map((old, n) => (n === b ? { ...old, do: list } : old)) })
}
const now = (s: Step) =>
  (s.kind === 'set' || s.kind === 'hold') && s.device ? (home.state(s.device, s.property)?.text ?? '') : ''
const isTimed = (kind: Step['kind']) => kind === 'until' || kind === 'question'
const tryStep = (s: Step) =>
  notices.attempt(async () => {
    await act.tryStep(s)
    notices.done(s.kind === 'hold' && !s.forSeconds ? 'The step is taken; it is let go in 10 s.' : 'The step is taken.')
  })
const here = (i: number) => props.running.includes(pathOf(i))
</script>

<template>
  <div ref="list" class="steps" :data-steps="path">
    <div v-for="(s, i) in steps" :key="i" class="step" :data-step="pathOf(i)" @keydown="onKey($event, i)">
      <SentenceLine :depth="depth" :problem="problemAt(i)">
        <template #left>
          <b v-if="here(i)" class="here">here</b>
          <template v-else>{{ number(i) }}</template>
        </template>
        <TokenPicker
          :model-value="s.kind"
          :choices="kindChoices"
          label="Step"
          @update:model-value="rekind(i, $event)"
        />
        {{ ' ' }}
        <StepWords
          :model-value="s"
          :lasts="lasts"
          :self="self"
          :member="member"
          @update:model-value="replace(i, $event)"
        />
        <span class="edits">
          <span class="grip soft" title="Drag it to another place, also into another step" aria-hidden="true">≡</span>
          <button
            v-if="i > 0 || depth > 1"
            type="button"
            class="plain soft"
            data-move="up"
            :aria-label="`Move step ${number(i)} up`"
            title="Move up (Alt ↑)"
            @click="nudge(i, -1)"
          >
            ↑
          </button>
          <button
            v-if="i < steps.length - 1 || depth > 1"
            type="button"
            class="plain soft"
            data-move="down"
            :aria-label="`Move step ${number(i)} down`"
            title="Move down (Alt ↓)"
            @click="nudge(i, 1)"
          >
            ↓
          </button>
          <button
            v-if="self && s.kind !== 'stop' && s.device !== 'member'"
            type="button"
            class="plain soft word"
            :aria-label="`Try step ${number(i)}`"
            title="Takes this step now, on the real devices"
            @click="tryStep(s)"
          >
            try
          </button>
          <button
            type="button"
            class="plain soft word"
            :aria-label="`Copy step ${number(i)}`"
            title="Copy, to put it in elsewhere, also in another rule"
            @click="clipboard.take([s])"
          >
            copy
          </button>
          <button
            type="button"
            class="plain soft word"
            :aria-label="`Cut step ${number(i)}`"
            title="Take it out, to put it in elsewhere"
            @click="cut(i)"
          >
            cut
          </button>
          <button
            type="button"
            class="plain soft"
            :aria-label="`Remove step ${number(i)}`"
            title="Remove"
            @click="drop(i)"
          >
            ×
          </button>
        </span>
        <template #right>{{ now(s) ? `now ${now(s)}` : '' }}</template>
      </SentenceLine>

      <ConditionLines
        v-if="s.condition"
        :model-value="s.condition"
        :path="`${pathOf(i)}/condition`"
        :states="states"
        :problems="problems"
        :depth="depth + 1"
        @update:model-value="change(i, { condition: $event })"
        @remove="change(i, { condition: {} })"
      />
      <template v-if="s.kind === 'if'">
        <SentenceLine :depth="depth + 1"><span class="soft">then</span></SentenceLine>
        <StepLines
          :model-value="s.then ?? []"
          v-bind="common"
          :path="`${pathOf(i)}/then`"
          :numbered="`${number(i)}.`"
          :depth="depth + 2"
          @update:model-value="change(i, { then: $event })"
        />
      </template>
      <StepLines
        v-if="s.kind === 'repeat' || s.kind === 'each'"
        :model-value="s.do ?? []"
        v-bind="common"
        :path="`${pathOf(i)}/do`"
        :numbered="`${number(i)}.`"
        :depth="depth + 1"
        :member="s.kind === 'each' ? s.group : member"
        @update:model-value="change(i, { do: $event })"
      />
      <template v-for="(b, n) in s.branches ?? []" :key="n">
        <SentenceLine :depth="depth + 1">
          <TextToken
            v-if="s.kind === 'question'"
            :model-value="b.answer"
            :label="`Answer ${n + 1}`"
            empty="an answer"
            :maximum="60"
            @update:model-value="
              change(i, { branches: s.branches?.map((x, m) => (m === n ? { ...x, answer: $event } : x)) })
            "
          />
          <span v-else class="soft">{{ n === 0 ? 'this' : s.kind === 'oneOf' ? 'or this' : 'and this' }}</span>
          <button
            v-if="(s.branches?.length ?? 0) > (s.kind === 'question' ? 1 : 2)"
            type="button"
            class="plain soft edits"
            :aria-label="`Remove branch ${n + 1} of step ${number(i)}`"
            title="Remove"
            @click="change(i, { branches: s.branches?.filter((_, x) => x !== n) })"
          >
            ×
          </button>
        </SentenceLine>
        <StepLines
          :model-value="b.do"
          v-bind="common"
          :path="`${pathOf(i)}/branches/${n}/do`"
          :numbered="`${number(i)}.${'abcdefghijklmnopqrst'[n]}`"
          :depth="depth + 2"
          @update:model-value="branch(i, n, $event)"
        />
      </template>
      <SentenceLine v-if="s.branches" :depth="depth + 1">
        <button
          type="button"
          class="plain link add"
          @click="
            change(i, { branches: [...s.branches, s.kind === 'question' ? { do: [] } : { do: [newStep('set')] }] })
          "
        >
          {{ { oneOf: 'Or something else', question: 'Add an answer' }[s.kind as string] ?? 'And something else' }}
        </button>
      </SentenceLine>
      <template v-if="hasOtherwise(s)">
        <template v-if="s.else?.length">
          <SentenceLine :depth="depth + 1"
            ><span class="soft">{{ otherwiseTitle(s.kind) }}</span></SentenceLine
          >
          <StepLines
            :model-value="s.else"
            v-bind="common"
            :path="`${pathOf(i)}/else`"
            :numbered="`${number(i)}.else `"
            :depth="depth + 2"
            @update:model-value="change(i, { else: $event.length ? $event : undefined })"
          />
        </template>
        <SentenceLine v-else-if="!isTimed(s.kind) || s.atMostSeconds" :depth="depth + 1">
          <button type="button" class="plain link add" @click="change(i, { else: [newStep('set')] })">
            Add what is done {{ otherwiseTitle(s.kind) }}
          </button>
        </SentenceLine>
      </template>
    </div>
  </div>
  <SentenceLine :depth="depth" :problem="problems.find((p) => p.path === path)?.message">
    <button type="button" class="plain link add" @click="add">{{ adding }}</button>
    <button v-if="clipboard.steps.length" type="button" class="plain link add paste" @click="paste">
      Put in what was copied
    </button>
  </SentenceLine>
</template>

<style scoped>
.edits {
  margin-left: var(--space-12);
  display: inline-flex;
  gap: var(--space-2);
}
.edits button {
  min-width: 24px;
  text-align: center;
}
.edits button:hover {
  color: var(--ink);
}
.word {
  font-size: var(--type-small);
  padding: 0 var(--space-4);
}
.grip {
  cursor: grab;
  min-width: 20px;
  text-align: center;
}
.ghost {
  outline: 1px dashed var(--verdigris);
  background: var(--verdigris-wash);
}
.here {
  color: var(--ochre);
}
.add {
  font-size: var(--type-text);
}
.paste {
  margin-left: var(--space-16);
}
</style>
