<script setup lang="ts">
import { computed, provide, useTemplateRef } from 'vue'
import type { Condition, Rule, RuleDocument } from '@/api/types'
import DurationToken from '@/components/tokens/DurationToken.vue'
import SentenceLine from '@/components/tokens/SentenceLine.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { useFilling } from '@/lib/filling'
import { withFormula } from '@/lib/formulas'
import { speakOf } from '@/lib/likely'
import { MODE, OWN } from '@/lib/own'
import { rekindRule } from '@/lib/rekind'
import { stepMoving } from '@/lib/stepMoves'
import { newStep, ruleKinds, takesTime } from '@/lib/steps'
import ConditionLines from './ConditionLines.vue'
import RunningBar from './RunningBar.vue'
import StepLines from './StepLines.vue'
import TriggerLines from './TriggerLines.vue'

/** A rule as sentences: what begins it, what it is provided that, and what it does, each word of it chosen in its place. */
const props = defineProps<{
  /** The rule that is at work, of which is shown what is so now. */
  rule: Rule
  /** Whether what is edited is not what is at work: then it has no truth yet. */
  draft: boolean
  /** How it stands, in a word. */
  standing: string
  problems: Rule['state']['problems']
  document: RuleDocument
}>()
/** A change is what the document becomes, by what it is then: two in a row are both there. */
const emit = defineEmits<{ change: [(before: RuleDocument) => RuleDocument] }>()
const d = computed(() => props.document)

const state = computed(() => props.rule.state)
const states = computed(() => (props.draft ? [] : state.value.conditions))
const lasts = computed(() => !!d.value.whenever)
/** The steps at which its runs are. */
const at = computed(() =>
  props.draft
    ? []
    : (state.value.frames ?? []).filter((f) => f.at && (f.resumeAt || f.awaits || f.until)).map((f) => f.at!),
)

type Kind = 'whenever' | 'when'
const kinds: { value: Kind; title: string }[] = [
  { value: 'whenever', title: 'While' },
  { value: 'when', title: 'Each time' },
]
function rekind(kind: Kind) {
  if ((kind === 'whenever') !== lasts.value) emit('change', (before) => rekindRule(before, kind === 'whenever'))
}
const policies = [
  { value: 'restart', title: 'start over' },
  { value: 'ignore', title: 'ignore it' },
  { value: 'queue', title: 'queue it' },
  { value: 'sideBySide', title: 'run side by side' },
] as const

const set = (part: Partial<RuleDocument>) => emit('change', (before) => ({ ...before, ...part }))
provide(...stepMoving(() => d.value, set))
speakOf(() => d.value)
useFilling(
  useTemplateRef<HTMLElement>('sentence'),
  () => d.value,
  () => {
    if (d.value.do.length) return false
    set({ do: [newStep(lasts.value ? 'hold' : 'set')] })
    return true
  },
)
/** Begins what the rule is only on in: a mode of the house, to be chosen. */
const inMode = (): Condition => ({ device: OWN, property: MODE, comparison: 'is' })
</script>

<template>
  <div ref="sentence" class="sentence">
    <SentenceLine>
      <template #left>{{ standing }}</template>
      <TokenPicker
        :model-value="lasts ? 'whenever' : 'when'"
        :choices="kinds"
        label="Kind of rule"
        @update:model-value="rekind"
      />
      <template v-if="lasts">
        <template v-if="d.forAtLeastSeconds || d.formulas?.forAtLeastSeconds"
          ><span class="soft">, for at least</span>{{ ' ' }}</template
        >
        <DurationToken
          :model-value="d.forAtLeastSeconds ?? 0"
          label="For at least"
          zero="…"
          workable
          :formula="d.formulas?.forAtLeastSeconds"
          @update:model-value="set({ forAtLeastSeconds: $event || undefined })"
          @update:formula="set({ formulas: withFormula(d.formulas, 'forAtLeastSeconds', $event) })"
        />
        <RunningBar v-if="!draft && state.phase === 'armed'" :since="state.since" :deadline="state.deadline" />
      </template>
    </SentenceLine>
    <ConditionLines
      v-if="d.whenever"
      :model-value="d.whenever"
      path="whenever"
      :states="states"
      :problems="problems"
      @update:model-value="set({ whenever: $event })"
      @remove="set({ whenever: {} })"
    />
    <TriggerLines
      v-else
      :model-value="d.when ?? []"
      :problems="problems"
      :next="draft ? undefined : state.nextTimes"
      @update:model-value="set({ when: $event })"
    />

    <template v-if="d.provided">
      <SentenceLine
        ><b>provided</b> <span class="soft">{{ lasts ? 'when it begins' : 'at that moment' }}</span></SentenceLine
      >
      <ConditionLines
        :model-value="d.provided"
        path="provided"
        :states="states"
        :problems="problems"
        removable
        @update:model-value="set({ provided: $event })"
        @remove="set({ provided: undefined })"
      />
    </template>
    <SentenceLine v-else>
      <button type="button" class="plain link small" @click="set({ provided: {} })">Add a condition</button>
    </SentenceLine>

    <template v-if="d.gate">
      <SentenceLine><b>only while</b> <span class="soft">otherwise this rule is off</span></SentenceLine>
      <ConditionLines
        :model-value="d.gate"
        path="gate"
        :states="states"
        :problems="problems"
        removable
        @update:model-value="set({ gate: $event })"
        @remove="set({ gate: undefined })"
      />
    </template>
    <SentenceLine v-else>
      <button type="button" class="plain link small" @click="set({ gate: inMode() })">Only in certain modes …</button>
    </SentenceLine>

    <SentenceLine><b>do</b></SentenceLine>
    <StepLines
      :model-value="d.do"
      path="do"
      :problems="problems"
      :kinds="lasts ? ['hold', ...ruleKinds.filter((k) => k !== 'hold')] : ruleKinds"
      :lasts="lasts"
      :running="at"
      :states="states"
      :self="rule.id"
      @update:model-value="set({ do: $event })"
    />

    <template v-if="lasts">
      <SentenceLine>
        <b>Once</b> <span class="soft">that has ended for{{ d.endedForAtLeastSeconds ? ' at least' : '' }}</span>
        {{ ' ' }}
        <DurationToken
          :model-value="d.endedForAtLeastSeconds ?? 0"
          label="Ended for at least"
          zero="any time"
          workable
          :formula="d.formulas?.endedForAtLeastSeconds"
          @update:model-value="set({ endedForAtLeastSeconds: $event || undefined })"
          @update:formula="set({ formulas: withFormula(d.formulas, 'endedForAtLeastSeconds', $event) })"
        />, <b>let go</b>
        {{ ' ' }}
        <DurationToken
          :model-value="d.backFadeSeconds ?? 0"
          label="What was before comes back over"
          zero="at once"
          @update:model-value="set({ backFadeSeconds: $event || undefined })"
        />
        <template v-if="d.afterwards?.length"><span class="soft">, and</span></template>
        <RunningBar v-if="!draft && state.phase === 'ending'" :since="state.since" :deadline="state.deadline" />
      </SentenceLine>
      <StepLines
        v-if="d.afterwards?.length"
        :model-value="d.afterwards"
        path="afterwards"
        :problems="problems"
        :kinds="ruleKinds.filter((k) => k !== 'hold')"
        numbered="after "
        :running="at"
        :states="states"
        :self="rule.id"
        @update:model-value="set({ afterwards: $event.length ? $event : undefined })"
      />
      <SentenceLine v-else>
        <button type="button" class="plain link small" @click="set({ afterwards: [{ kind: 'set' }] })">
          Add a step for afterwards
        </button>
      </SentenceLine>
    </template>
    <SentenceLine v-else>
      <span class="soft">If it is started while it runs, </span>
      <TokenPicker
        :model-value="d.policy ?? 'restart'"
        :choices="[...policies]"
        label="When started while running"
        @update:model-value="set({ policy: $event })"
      />
    </SentenceLine>
    <SentenceLine v-if="takesTime(d.do) || takesTime(d.afterwards)">
      <span class="soft">If the hub was off when a wait ended, </span>
      <DurationToken
        :model-value="d.giveUpAfterSeconds ?? 0"
        label="Late waits"
        zero="it goes on all the same"
        lead="it gives up when later than "
        @update:model-value="set({ giveUpAfterSeconds: $event || undefined })"
      />
    </SentenceLine>
  </div>
</template>

<style scoped>
.sentence {
  padding: var(--space-14) 0;
}
.small {
  font-size: var(--type-text);
}
</style>
