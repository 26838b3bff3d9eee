<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Control, ControlKind, Dashboard, DashboardDocument } from '@/api/types'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import EditClash from '@/components/documents/EditClash.vue'
import EditorHead from '@/components/documents/EditorHead.vue'
import SaveState from '@/components/documents/SaveState.vue'
import { aligned, below, freePlace, type Alignment, type Placed } from '@/lib/arranging'
import { useAutosave } from '@/lib/autosave'
import { documentOf } from '@/lib/documents'
import { undoKeys } from '@/lib/undoKeys'
import { useChanges } from '@/stores/changes'
import { useControlKinds } from '@/stores/controlKinds'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import BoardBackdrop from '../BoardBackdrop.vue'
import AddControls from './AddControls.vue'
import BoardGrid from './BoardGrid.vue'
import BoardOptions from './BoardOptions.vue'
import ControlOptions from './ControlOptions.vue'
import PointElsewhere from './PointElsewhere.vue'

/** Arranges a dashboard, for wide screens and for tall ones. Every step is kept and can be undone. */
const props = defineProps<{ dashboard: Dashboard }>()
const home = useHome()
const kinds = useControlKinds()
const notices = useNotices()
const router = useRouter()
onMounted(() => notices.attempt(kinds.read))

const COLUMNS = { wide: 24, tall: 12 }
const ROW = 38

const live = computed(() => documentOf('dashboard', props.dashboard))
const edit = useAutosave('dashboard', {
  id: () => props.dashboard.id,
  live: () => live.value,
  revision: () => props.dashboard.revision,
})
const { copy, clash, past, future, undo, redo } = edit

const layout = ref<'wide' | 'tall'>('wide')
const columns = computed(() => COLUMNS[layout.value])
const chosenIDs = ref(new Set<string>())
const all = computed(() => copy.value?.controls ?? [])
const chosen = computed(() => all.value.filter((c) => chosenIDs.value.has(c.id)))
/** What stands beside the board. */
const beside = ref<'options' | 'add' | 'elsewhere'>('options')

/** The controls where they lie on the screen that is arranged for. */
const shown = computed<Control[]>(() => {
  if (layout.value === 'wide') return all.value
  const lying: Control[] = []
  for (const c of all.value) {
    const place = c.tall ?? props.dashboard.tallPlaces[c.id]
    // What was just added has no place yet until the hub proposes one.
    lying.push({ ...c, ...(place ?? { column: 0, row: below(lying), width: COLUMNS.tall / 2, height: c.height }) })
  }
  return lying
})

function set(part: Partial<DashboardDocument>) {
  if (copy.value) copy.value = { ...copy.value, ...part }
}
function change(part: Partial<Control>) {
  set({ controls: all.value.map((c) => (chosenIDs.value.has(c.id) ? { ...c, ...part } : c)) })
}
function arrange(places: Placed[]) {
  const by = new Map(places.map(({ id, column, row, width, height }) => [id, { column, row, width, height }]))
  set({
    controls: all.value.map((c) => {
      const place = by.get(c.id)!
      return layout.value === 'wide' ? { ...c, ...place } : { ...c, tall: place }
    }),
  })
}
const align = (how: Alignment) => arrange(aligned(shown.value, chosenIDs.value, how, columns.value))
const proposeAnew = () => set({ controls: all.value.map((c) => ({ ...c, tall: undefined })) })

/** An id that no other control of any dashboard has. */
const newID = () => `control-${crypto.getRandomValues(new Uint32Array(2)).join('').slice(0, 14)}`
function add(kind: ControlKind, about: Partial<Control>) {
  const id = newID()
  const size = { width: kind.width, height: kind.height }
  const place = freePlace(all.value, size, COLUMNS.wide)
  set({ controls: [...all.value, { id, kind: kind.kind, ...about, ...place } as Control] })
  chosenIDs.value = new Set([id])
}
function remove() {
  set({ controls: all.value.filter((c) => !chosenIDs.value.has(c.id)) })
  chosenIDs.value = new Set()
}
function duplicate() {
  const from = below(all.value) - Math.min(...chosen.value.map((c) => c.row))
  const copies = chosen.value.map((c) => ({ ...c, id: newID(), row: c.row + from, tall: undefined }))
  set({ controls: [...all.value, ...copies] })
  chosenIDs.value = new Set(copies.map((c) => c.id))
}

const elsewhere = ref<Control[]>([])
function pointElsewhere(controls: Control[]) {
  elsewhere.value = controls
  beside.value = 'elsewhere'
}
const copied = (copies: Control[], into: string, room: string) =>
  notices.attempt(async () => {
    if (into === props.dashboard.id) {
      set({ controls: [...all.value, ...copies] })
      chosenIDs.value = new Set(copies.map((c) => c.id))
      beside.value = 'options'
      return
    }
    const target = home.dashboards.find((d) => d.id === into)
    if (!target) {
      const saved = await ask(
        api.POST('/api/dashboards', {
          body: { ...documentOf('dashboard', props.dashboard), title: room, controls: copies },
        }),
      )
      await home.arrived('dashboard', saved.id)
      await router.push(`/dashboards/${saved.id}`)
      return
    }
    const from = below(target.controls)
    const document = documentOf('dashboard', target)
    const controls = [...document.controls, ...copies.map((c) => ({ ...c, row: c.row + from }))]
    await ask(
      api.PUT('/api/dashboards/{id}', {
        params: { path: { id: target.id }, query: { revision: target.revision } },
        body: { ...document, controls },
      }),
    )
    beside.value = 'options'
    notices.done(`Copied to ${target.title}.`)
    await router.push(`/dashboards/${target.id}`)
  })

const undoKey = undoKeys({ past, future, undo, redo })
function onKey(event: KeyboardEvent) {
  if (event.key === 'Escape' && !event.defaultPrevented) chosenIDs.value = new Set()
  undoKey(event)
}
const removeBoard = () => useChanges('dashboard').remove(props.dashboard, undefined, () => router.push('/dashboards'))
const titleOf = (c: Control) =>
  c.label ||
  home.device(c.device)?.title ||
  home.scene(c.scene)?.title ||
  home.rule(c.rule)?.title ||
  home.sequences.find((s) => s.id === c.sequence)?.title ||
  home.lights.find((l) => l.id === c.light)?.title ||
  home.dashboards.find((d) => d.id === c.dashboard)?.title ||
  kinds.byKind.get(c.kind)?.title ||
  'a control'
</script>

<template>
  <div v-if="copy" class="editor" @keydown="onKey">
    <h1 class="unseen">{{ copy.title }}</h1>
    <EditorHead
      :title="copy.title"
      label="Name of the dashboard"
      :pick="{ kind: 'dashboard', id: dashboard.id }"
      :maxlength="80"
      @update:title="set({ title: $event })"
    >
      <SaveState :edit="edit" />
      <template #buttons>
        <Button severity="secondary" label="Undo" :disabled="!past.length" @click="undo" />
        <Button severity="secondary" label="Redo" :disabled="!future.length" @click="redo" />
        <Button severity="secondary" label="Delete" @click="removeBoard" />
        <Button as="router-link" :to="`/panel/${dashboard.id}`" label="Show it" />
      </template>
    </EditorHead>
    <EditClash v-if="clash" :changes="clash" @mine="edit.keepMine" @theirs="edit.takeTheirs" />
    <div class="tools">
      <Button size="small" label="Add a control" @click="beside = 'add'" />
      <span class="layouts" role="radiogroup" aria-label="Screen">
        <button type="button" role="radio" class="plain" :aria-checked="layout === 'wide'" @click="layout = 'wide'">
          Wide screens
        </button>
        <button type="button" role="radio" class="plain" :aria-checked="layout === 'tall'" @click="layout = 'tall'">
          Tall screens
        </button>
      </span>
      <button v-if="layout === 'tall' && all.some((c) => c.tall)" type="button" class="plain link" @click="proposeAnew">
        Arrange as proposed
      </button>
      <span v-else-if="layout === 'tall'" class="soft small">As proposed from the wide one</span>
      <button
        v-if="all.length > 1"
        type="button"
        class="plain link"
        @click="chosenIDs = chosenIDs.size === all.length ? new Set() : new Set(all.map((c) => c.id))"
      >
        {{ chosenIDs.size === all.length ? 'Choose none' : 'Choose all' }}
      </button>
      <button v-if="all.length" type="button" class="plain link" @click="pointElsewhere(all)">
        Copy it all for another room …
      </button>
    </div>
    <div class="work">
      <div class="sideways">
        <div class="stage" :class="layout">
          <BoardBackdrop v-if="copy.background" :background="copy.background" :controls="all" />
          <BoardGrid
            v-model:chosen="chosenIDs"
            :controls="shown"
            :columns="columns"
            :row="ROW"
            :title-of="titleOf"
            @arrange="arrange"
            @remove="remove"
            @copy="duplicate"
          />
        </div>
        <p v-if="!all.length" class="soft">This dashboard is empty. Add a control.</p>
        <p v-else class="soft small">
          Drag a control, or its edge to size it. Shift-click chooses several, so does a frame drawn over them. Arrow
          keys move what is chosen, with Shift they size it; Ctrl D duplicates, Delete removes.
        </p>
      </div>
      <aside class="beside">
        <AddControls v-if="beside === 'add'" @add="add" @close="beside = 'options'" />
        <PointElsewhere
          v-else-if="beside === 'elsewhere'"
          :controls="elsewhere"
          :below="below(all)"
          :dashboard="dashboard.id"
          @done="copied"
          @close="beside = 'options'"
        />
        <ControlOptions
          v-else-if="chosen.length"
          :controls="chosen"
          :title-of="titleOf"
          @change="change"
          @align="align"
          @remove="remove"
          @copy="duplicate"
          @elsewhere="pointElsewhere(chosen)"
        />
        <BoardOptions v-else :dashboard="copy" @change="set" />
      </aside>
    </div>
    <EarlierVersions :id="dashboard.id" kind="dashboard" :revision="dashboard.revision" />
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-16);
  align-items: center;
  min-height: 52px;
}
.layouts {
  display: inline-flex;
}
.layouts button {
  min-height: 34px;
  padding: 0 var(--space-12);
  border-bottom: 2px solid transparent;
  color: var(--ink-soft);
}
.layouts [aria-checked='true'] {
  border-color: var(--verdigris);
  color: var(--ink);
  font-weight: 650;
}
.small {
  font-size: var(--type-small);
}
.work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: var(--space-20);
  align-items: start;
}
/* On a narrow screen the board keeps a width at which its controls can be read. */
.sideways {
  overflow-x: auto;
}
.stage {
  position: relative;
  min-width: 620px;
}
.stage.tall {
  min-width: 0;
  width: 390px;
  max-width: 100%;
}
.beside {
  position: sticky;
  top: 0;
  max-height: calc(100vh - 60px);
  overflow-y: auto;
  padding-left: var(--space-16);
  border-left: 1px solid var(--rule);
}
@media (max-width: 1000px) {
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
  .beside {
    position: static;
    max-height: none;
    padding: var(--space-14) 0 0;
    border-left: 0;
    border-top: 1px solid var(--rule);
  }
}
</style>
