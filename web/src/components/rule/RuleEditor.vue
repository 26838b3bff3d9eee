<script setup lang="ts">
import { IconArrowBackUp, IconArrowForwardUp, IconCopy, IconTrash } from '@tabler/icons-vue'
import Button from 'primevue/button'
import ToggleSwitch from 'primevue/toggleswitch'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Change, Finding, Rule, RuleDocument } from '@/api/types'
import { act } from '@/lib/act'
import { useDraft, type Kept } from '@/lib/drafts'
import { useUndo } from '@/lib/undo'
import { documentOf } from '@/lib/documents'
import { undoKeys } from '@/lib/undoKeys'
import { useEdits } from '@/stores/edits'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import EditorHead from '@/components/documents/EditorHead.vue'
import LabelPicker from '@/components/inputs/LabelPicker.vue'
import ChangedLines from '@/components/documents/ChangedLines.vue'
import DraftClash from './DraftClash.vue'
import PretendPanel from './PretendPanel.vue'
import RuleAlerts from './RuleAlerts.vue'
import RuleFindings from './RuleFindings.vue'
import RuleRuns from './RuleRuns.vue'
import RuleSentence from './RuleSentence.vue'
import RuleText from './RuleText.vue'
import RunTrace from './RunTrace.vue'

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
/** What is wrong; what is only still to be filled in is shown as places to fill. */
const problems = computed(() => (changed.value ? [] : state.value.problems.filter((p) => !p.open)))
const open = computed(() => (changed.value ? 0 : state.value.problems.length - problems.value.length))
const lasts = computed(() => !!d.value.whenever)

function set(part: Partial<RuleDocument>) {
  draft.value = { ...d.value, ...part }
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
      <RuleSentence
        :document="d"
        :rule="rule"
        :draft="changed"
        :standing="changed ? 'draft' : standing"
        :problems="problems"
        @change="draft = $event(d)"
      />
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
