<script setup lang="ts">
import { IconArrowBackUp, IconArrowForwardUp, IconCopy, IconTrash } from '@tabler/icons-vue'
import Button from 'primevue/button'
import ToggleSwitch from 'primevue/toggleswitch'
import { computed, nextTick, provide, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Change, Condition, Finding, Rule, RuleDocument } from '@/api/types'
import { act } from '@/lib/act'
import { useDraft, type Kept } from '@/lib/drafts'
import { useFilling } from '@/lib/filling'
import { useUndo } from '@/lib/undo'
import { speakOf } from '@/lib/likely'
import { stepMoving } from '@/lib/stepMoves'
import { newStep, ruleKinds, takesTime } from '@/lib/steps'
import { documentOf } from '@/lib/documents'
import { undoKeys } from '@/lib/undoKeys'
import { MODE, OWN } from '@/lib/own'
import { rekindRule } from '@/lib/rekind'
import { withFormula } from '@/lib/formulas'
import { useEdits } from '@/stores/edits'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import EditorHead from '@/components/documents/EditorHead.vue'
import LabelPicker from '@/components/inputs/LabelPicker.vue'
import ChangedLines from '@/components/documents/ChangedLines.vue'
import DraftClash from './DraftClash.vue'
import ConditionLines from './ConditionLines.vue'
import DurationToken from '@/components/tokens/DurationToken.vue'
import PretendPanel from './PretendPanel.vue'
import RuleAlerts from './RuleAlerts.vue'
import RuleFindings from './RuleFindings.vue'
import RuleRuns from './RuleRuns.vue'
import RuleText from './RuleText.vue'
import RunTrace from './RunTrace.vue'
import RunningBar from './RunningBar.vue'
import SentenceLine from '@/components/tokens/SentenceLine.vue'
import StepLines from './StepLines.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import TriggerLines from './TriggerLines.vue'

const props = defineProps<{ rule: Rule }>()
const home = useHome()
const notices = useNotices()
const edits = useEdits()
const route = useRoute()
const router = useRouter()

const live = computed(() => documentOf('rule', props.rule))
const path = { id: props.rule.id } // the editor is made anew for each rule
const { draft, theirs, unreached, changedElsewhere, behind, differs, discard, keepMine, takeTheirs } =
  useDraft<RuleDocument>({
    key: path.id,
    live: () => live.value,
    revision: () => props.rule.revision,
    note: () => props.rule.draft,
    keeper: {
      read: async () => (await ask(api.GET('/api/rules/{id}/draft', { params: { path } }))) as Kept<RuleDocument>,
      write: (document, after, based) =>
        ask(api.PUT('/api/rules/{id}/draft', { params: { path, query: { after, based } }, body: document })),
      drop: (after) => ask(api.DELETE('/api/rules/{id}/draft', { params: { path, query: { after } } })),
    },
  })
watch(changedElsewhere, () => notices.done('This draft was changed in another window.', async () => undo()))
const d = computed(() => draft.value!)
const changed = computed(differs)
const state = computed(() => props.rule.state)
// What is so now is that of the live rule; a draft that differs has no truth yet.
const states = computed(() => (changed.value ? [] : state.value.conditions))
/** What is wrong; what is only still to be filled in is shown as places to fill. */
const problems = computed(() => (changed.value ? [] : state.value.problems.filter((p) => !p.open)))
const open = computed(() => (changed.value ? 0 : state.value.problems.length - problems.value.length))
const lasts = computed(() => !!d.value.whenever)

type Kind = 'whenever' | 'when'
const kinds: { value: Kind; title: string }[] = [
  { value: 'whenever', title: 'While' },
  { value: 'when', title: 'Each time' },
]
function rekind(kind: Kind) {
  if ((kind === 'whenever') === lasts.value) return
  draft.value = rekindRule(d.value, kind === 'whenever')
}

const policies = [
  { value: 'restart', title: 'start over' },
  { value: 'ignore', title: 'ignore it' },
  { value: 'queue', title: 'queue it' },
  { value: 'sideBySide', title: 'run side by side' },
] as const

function set(part: Partial<RuleDocument>) {
  draft.value = { ...d.value, ...part }
}
provide(...stepMoving(() => d.value, set))
speakOf(() => d.value)
useFilling(
  useTemplateRef<HTMLElement>('sentence'),
  () => draft.value,
  () => {
    if (d.value.do.length) return false
    set({ do: [newStep(lasts.value ? 'hold' : 'set')] })
    return true
  },
)
/** Begins what the rule is only on in: a mode of the house, to be chosen. */
const inMode = (): Condition => ({ device: OWN, property: MODE, comparison: 'is' })
function setCondition(key: 'whenever' | 'provided' | 'gate', condition: Condition | undefined) {
  set({ [key]: condition })
}

const put = (body: RuleDocument, revision: number) =>
  ask(api.PUT('/api/rules/{id}', { params: { path: { id: props.rule.id }, query: { revision } }, body }))

async function putLive() {
  const before = live.value
  const after = documentOf('rule', d.value)
  try {
    const saved = await put(after, props.rule.revision)
    await home.arrived('rule', path.id, saved.revision)
    await nextTick() // until then the rule is the one of before
    discard()
    notices.done(`${after.title} is live.`, () => edits.now('rule', path.id, after, before))
  } catch (error) {
    notices.fault(error)
  }
}

// A run that is looked at is in the address, so that it can be linked to.
const run = computed(() => Number(route.query.run) || undefined)
const showRun = (id: number | undefined) => router.replace({ query: { ...route.query, run: id } })
/** Changes whenever the rule did something. */
const fresh = computed(() => {
  const { lastBegan, lastEnded, notStartedAt, frames, runs, phase, triggered } = state.value
  return JSON.stringify([lastBegan, lastEnded, notStartedAt, frames, runs, phase, triggered, props.rule.revision])
})

const pretending = ref(false)
const asText = ref(false)

/** What would be different, once the draft is live. */
const differences = ref<Change[]>()
const compare = async () =>
  (differences.value = await ask(
    api.POST('/api/rules/{id}/compare', { params: { path: { id: props.rule.id } }, body: d.value }),
  ))
const showDifferences = () =>
  notices.attempt(async () => {
    if (differences.value) differences.value = undefined
    else await compare()
  })
watch(
  () => [props.rule.id, changed.value, JSON.stringify(draft.value)],
  () => {
    if (!changed.value) differences.value = undefined
    else if (differences.value) void notices.attempt(compare)
  },
)
function takeRevision(doc: RuleDocument) {
  draft.value = { ...documentOf('rule', doc as Rule), enabled: props.rule.enabled }
  notices.done('The draft is the rule as it was then. Put it live to have it back.')
}

/** Marks a finding as meant so; that changes nothing of what the rule does, so it needs no draft. */
const intend = (finding: Finding, note: string) =>
  notices.attempt(async () => {
    const before = live.value
    const { kind, path } = finding
    const { id } = props.rule
    const after = { ...before, intended: [...(before.intended ?? []), { kind, path, note: note || undefined }] }
    await edits.now('rule', id, before, after)
    notices.done('Marked as meant so.', () => edits.now('rule', id, after, before))
  })
const enable = (enabled: boolean) =>
  notices.attempt(() => edits.now('rule', path.id, live.value, { ...live.value, enabled }))
const tryNow = () => notices.attempt(() => act.runRule(props.rule.id))

const duplicate = () =>
  notices.attempt(async () => {
    const saved = await ask(
      api.POST('/api/rules', { body: { ...d.value, title: `${d.value.title}, copy`, enabled: false } }),
    )
    await home.arrived('rule', saved.id)
    await router.push(`/rules/${saved.id}`)
    notices.done('Duplicated, switched off until you have changed it.')
  })

const remove = () =>
  useChanges('rule').remove(props.rule, `${props.rule.title} deleted; what it held was let go.`, () =>
    router.push('/rules'),
  )

const phaseWords = { idle: 'waiting', armed: 'about to', holding: 'holding', ending: 'about to let go' }
const standing = computed(() => {
  if (state.value.problems.length) return 'cannot run'
  if (state.value.stopped) return 'stopped'
  if (state.value.pausedBy) return 'paused'
  if (!props.rule.enabled) return 'off'
  return lasts.value ? phaseWords[state.value.phase] : state.value.frames?.length ? 'running' : 'waiting'
})
const at = computed(() =>
  changed.value
    ? []
    : (state.value.frames ?? []).filter((f) => f.at && (f.resumeAt || f.awaits || f.until)).map((f) => f.at!),
)

const { past, future, undo, redo } = useUndo(draft, () => `rule/${path.id}`)
const onKey = undoKeys({ past, future, undo, redo }, true)
</script>

<template>
  <div v-if="draft" class="columns" @keydown="onKey">
    <div>
      <EditorHead
        :title="d.title"
        :pick="{ kind: 'rule', id: rule.id }"
        label="Name of the rule"
        placeholder="Name the rule"
        @update:title="set({ title: $event })"
      >
        <label class="enabled">
          <ToggleSwitch :model-value="rule.enabled" aria-label="Rule on" @update:model-value="enable($event)" />
          {{ rule.enabled ? 'on' : 'off' }}
        </label>
        <span v-if="changed" class="ochre"> · a draft differs from what is live</span>
        <template #buttons>
          <Button v-if="past.length" severity="secondary" aria-label="Undo" title="Undo (Ctrl Z)" @click="undo">
            <IconArrowBackUp :size="17" stroke="2" />
          </Button>
          <Button v-if="future.length" severity="secondary" aria-label="Redo" title="Redo (Ctrl Shift Z)" @click="redo">
            <IconArrowForwardUp :size="17" stroke="2" />
          </Button>
          <Button
            severity="secondary"
            label="Try now"
            :disabled="changed || problems.length > 0"
            title="Takes the steps now, on the real devices"
            @click="tryNow"
          />
          <Button
            severity="secondary"
            label="Pretend"
            title="See what it would do, without anything being sent"
            @click="pretending = !pretending"
          />
          <Button
            severity="secondary"
            label="As text"
            title="The same rule as YAML, to type in"
            @click="asText = !asText"
          />
          <Button severity="secondary" aria-label="Duplicate" title="Duplicate" @click="duplicate">
            <IconCopy :size="17" stroke="2" />
          </Button>
          <Button severity="secondary" aria-label="Delete" title="Delete" @click="remove">
            <IconTrash :size="17" stroke="2" />
          </Button>
          <Button
            v-if="changed"
            severity="secondary"
            :label="differences ? 'Hide difference' : 'Difference'"
            @click="showDifferences"
          />
          <Button v-if="changed" severity="secondary" label="Discard draft" @click="discard" />
          <Button
            v-if="changed"
            :label="behind ? 'Put live over it' : 'Put live'"
            :disabled="!d.title.trim() || !!theirs"
            @click="putLive"
          />
        </template>
      </EditorHead>

      <DraftClash v-if="theirs" :rule="rule.id" :mine="d" :theirs="theirs" @mine="keepMine" @theirs="takeTheirs" />
      <p v-if="behind" class="behind" role="alert">
        What is live was changed since this draft was begun. “Difference” shows what the draft would take back; what is
        live now stays under “Earlier”.
      </p>
      <p v-if="unreached" class="behind" role="alert">
        The hub has not taken this draft: it is kept in this browser until it does.
      </p>
      <p v-if="open" class="soft open" role="status">
        {{ open === 1 ? '1 place is' : `${open} places are` }} still to be filled in. Until then it does nothing.
      </p>
      <RuleAlerts v-if="!changed" :rule="rule" />
      <RuleFindings v-if="!changed && state.findings.length" :findings="state.findings" @intend="intend" />
      <section v-if="differences" class="differences" aria-label="What would be different">
        <h2>What would be different</h2>
        <ChangedLines :lines="differences" />
      </section>
      <RuleText v-if="asText" :key="rule.id" v-model="draft" @close="asText = false" />
      <PretendPanel v-if="pretending" :key="rule.id" :rule="rule.id" :document="d" @close="pretending = false" />
      <RunTrace v-if="run" class="run" :rule="rule.id" :run="run" :fresh="fresh" @close="showRun(undefined)" />
      <div ref="sentence" class="sentence">
        <SentenceLine>
          <template #left>{{ changed ? 'draft' : standing }}</template>
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
            <RunningBar v-if="!changed && state.phase === 'armed'" :since="state.since" :deadline="state.deadline" />
          </template>
        </SentenceLine>
        <ConditionLines
          v-if="d.whenever"
          :model-value="d.whenever"
          path="whenever"
          :states="states"
          :problems="problems"
          @update:model-value="setCondition('whenever', $event)"
          @remove="setCondition('whenever', {})"
        />
        <TriggerLines
          v-else
          :model-value="d.when ?? []"
          :problems="problems"
          :next="changed ? undefined : state.nextTimes"
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
            @update:model-value="setCondition('provided', $event)"
            @remove="setCondition('provided', undefined)"
          />
        </template>
        <SentenceLine v-else>
          <button type="button" class="plain link small" @click="setCondition('provided', {})">Add a condition</button>
        </SentenceLine>

        <template v-if="d.gate">
          <SentenceLine><b>only while</b> <span class="soft">otherwise this rule is off</span></SentenceLine>
          <ConditionLines
            :model-value="d.gate"
            path="gate"
            :states="states"
            :problems="problems"
            removable
            @update:model-value="setCondition('gate', $event)"
            @remove="setCondition('gate', undefined)"
          />
        </template>
        <SentenceLine v-else>
          <button type="button" class="plain link small" @click="setCondition('gate', inMode())">
            Only in certain modes …
          </button>
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
            <template v-if="d.afterwards?.length"><span class="soft">, and</span></template>
            <RunningBar v-if="!changed && state.phase === 'ending'" :since="state.since" :deadline="state.deadline" />
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
      <LabelPicker
        :model-value="d.labels ?? []"
        :known="home.rules.flatMap((r) => r.labels ?? [])"
        label="Labels of the rule"
        input-id="rule-labels"
        class="labels"
        @update:model-value="set({ labels: $event.length ? $event : undefined })"
      />
      <textarea
        class="note"
        rows="2"
        :value="d.note"
        placeholder="A note, for you in some weeks"
        aria-label="Note"
        maxlength="2000"
        @input="set({ note: ($event.target as HTMLTextAreaElement).value || undefined })"
      />
    </div>
    <RuleRuns :rule="rule" :opened="run" :fresh="fresh" @open="showRun" @take="takeRevision" />
  </div>
</template>

<style scoped>
.labels {
  margin: var(--space-16) 0 var(--space-10);
  max-width: 560px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 280px;
  gap: var(--space-26);
}
.enabled {
  display: inline-flex;
  gap: var(--space-8);
  align-items: center;
}
.ochre {
  color: var(--ochre);
}
.differences,
.run {
  margin-top: var(--space-14);
}
.differences {
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
  padding: var(--space-10) var(--space-14);
}
.sentence {
  padding: var(--space-14) 0;
}
.small {
  font-size: var(--type-text);
}
.behind {
  color: var(--ochre);
}
.note {
  width: 100%;
  background: transparent;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  padding: var(--space-8) var(--space-12);
  resize: vertical;
}
@media (max-width: 1560px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
