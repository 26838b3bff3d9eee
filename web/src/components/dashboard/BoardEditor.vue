<script setup lang="ts">
import { GridStack, type GridStackNode } from 'gridstack'
import 'gridstack/dist/gridstack.min.css'
import Button from 'primevue/button'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { Control, Dashboard, DashboardDocument } from '@/api/types'
import { useAutosave } from '@/lib/autosave'
import { documentOf } from '@/lib/documents'
import { undoKeys } from '@/lib/undoKeys'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import EditClash from '@/components/documents/EditClash.vue'
import EditorHead from '@/components/documents/EditorHead.vue'
import SaveState from '@/components/documents/SaveState.vue'
import AddControl from './AddControl.vue'
import ControlCell from './ControlCell.vue'
import type { NewControl } from './controls'

/** Arranges a board: by dragging, or by arrow keys on a chosen cell. Every step is kept and can be undone. */
const props = defineProps<{ dashboard: Dashboard }>()
const home = useHome()
const router = useRouter()

const COLUMNS = 12
const ROW = 74

const live = computed(() => documentOf('dashboard', props.dashboard))
const edit = useAutosave('dashboard', {
  id: () => props.dashboard.id,
  live: () => live.value,
  revision: () => props.dashboard.revision,
})
const { copy, clash, past, future, undo, redo } = edit
const chosenID = ref<string>()
const chosen = computed(() => copy.value?.controls.find((c) => c.id === chosenID.value))

const board = ref<HTMLElement>()
let grid: GridStack | null = null
let placing = false // while the copy is laid onto the grid, its own changes are not news

onMounted(() => {
  grid = GridStack.init(
    {
      column: COLUMNS,
      cellHeight: ROW,
      margin: 0,
      mode: 'float',
      animate: false,
      handle: '.grip',
      resizable: { handles: 'se' },
    },
    board.value!,
  )
  grid?.on('change', (_, nodes) => {
    if (!placing) take(nodes)
  })
  void place()
})
onBeforeUnmount(() => grid?.destroy(false))

function take(nodes: GridStackNode[]) {
  const moved = new Map(nodes.map((n) => [String(n.id), n]))
  set({
    controls: copy.value!.controls.map((c) => {
      const n = moved.get(c.id)
      return n ? { ...c, column: n.x ?? 0, row: n.y ?? 0, width: n.w ?? 1, height: n.h ?? 1 } : c
    }),
  })
}

/** Lays the copy onto the grid: new cells become widgets, the others go where the copy says. */
async function place() {
  await nextTick()
  if (!grid || !board.value) return
  placing = true
  grid.batchUpdate()
  const wanted = new Map(copy.value?.controls.map((c) => [c.id, c]))
  for (const node of [...grid.engine.nodes]) {
    if (!wanted.has(String(node.id)) && node.el) grid.removeWidget(node.el, false, false)
  }
  for (const element of board.value.querySelectorAll<HTMLElement>('.grid-stack-item')) {
    const c = wanted.get(element.dataset.id ?? '')
    if (!c) continue
    const where = { x: c.column, y: c.row, w: c.width, h: c.height }
    if (grid.engine.nodes.some((n) => n.el === element)) grid.update(element, where)
    else grid.makeWidget(element, { ...where, id: c.id })
  }
  grid.batchUpdate(false)
  placing = false
}
watch(() => JSON.stringify(copy.value?.controls.map((c) => [c.id, c.column, c.row, c.width, c.height])), place)

function set(part: Partial<DashboardDocument>) {
  if (copy.value) copy.value = { ...copy.value, ...part }
}
function change(part: Partial<Control>) {
  set({ controls: copy.value!.controls.map((c) => (c.id === chosenID.value ? { ...c, ...part } : c)) })
}

function add(control: NewControl) {
  const id = `c-${Date.now().toString(36)}`
  const size = { width: 4, height: 2 }
  const place = free(size.width, size.height)
  set({ controls: [...copy.value!.controls, { id, ...control, ...place, ...size }] })
  chosenID.value = id
}

/** The first free place from the top, row by row. */
function free(width: number, height: number): { column: number; row: number } {
  const taken = (column: number, row: number) =>
    copy.value!.controls.some(
      (c) => column < c.column + c.width && column + width > c.column && row < c.row + c.height && row + height > c.row,
    )
  for (let row = 0; ; row++)
    for (let column = 0; column + width <= COLUMNS; column += 1) if (!taken(column, row)) return { column, row }
}

function remove(id: string) {
  set({ controls: copy.value!.controls.filter((c) => c.id !== id) })
  chosenID.value = undefined
}

function onCellKey(event: KeyboardEvent, c: Control) {
  const by: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, -1],
    ArrowDown: [0, 1],
  }
  if (event.key === 'Delete') {
    event.preventDefault()
    remove(c.id)
    return
  }
  const step = by[event.key]
  if (!step || !grid) return
  event.preventDefault()
  const element = board.value?.querySelector<HTMLElement>(`[data-id="${c.id}"]`)
  if (!element) return
  if (event.shiftKey)
    grid.update(element, {
      w: Math.max(1, Math.min(COLUMNS - c.column, c.width + step[0])),
      h: Math.max(1, c.height + step[1]),
    })
  else
    grid.update(element, {
      x: Math.max(0, Math.min(COLUMNS - c.width, c.column + step[0])),
      y: Math.max(0, c.row + step[1]),
    })
}

const onKey = undoKeys({ past, future, undo, redo })

const removeBoard = () => useChanges('dashboard').remove(props.dashboard, undefined, () => router.push('/dashboards'))

const titleOf = (c: Control) =>
  c.label || home.device(c.device)?.title || home.scene(c.scene)?.title || home.rule(c.rule)?.title || 'a control'
</script>

<template>
  <div v-if="copy" @keydown="onKey">
    <h1 class="unseen">{{ copy.title }}</h1>
    <EditorHead
      :title="copy.title"
      label="Name of the dashboard"
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
      <AddControl @add="add" />
      <template v-if="chosen">
        <span class="soft"
          >Chosen: <b>{{ titleOf(chosen) }}</b></span
        >
        <input
          class="label"
          :value="chosen.label"
          placeholder="Label of your own"
          aria-label="Label"
          maxlength="80"
          @input="change({ label: ($event.target as HTMLInputElement).value || undefined })"
        />
        <button class="plain link" @click="remove(chosen.id)">Remove</button>
      </template>
      <span v-else class="soft small"
        >Drag a cell by its grip or size it at its corner; or choose it and use the arrow keys, with Shift to
        size.</span
      >
    </div>
    <div class="sideways">
      <div ref="board" class="grid-stack board">
        <div v-for="c in copy.controls" :key="c.id" class="grid-stack-item" :data-id="c.id">
          <div
            class="grid-stack-item-content placed"
            :class="{ chosen: c.id === chosenID }"
            tabindex="0"
            role="group"
            :aria-label="`${titleOf(c)}: column ${c.column + 1}, row ${c.row + 1}, ${c.width} wide, ${c.height} high`"
            @click="chosenID = c.id"
            @focus="chosenID = c.id"
            @keydown="onCellKey($event, c)"
          >
            <span class="grip" aria-hidden="true" title="Drag">⠿</span>
            <ControlCell :control="c" still />
          </div>
        </div>
      </div>
    </div>
    <p v-if="!copy.controls.length" class="soft none">The board is empty. Add a lamp, a value, a scene or a rule.</p>
    <EarlierVersions :id="dashboard.id" kind="dashboard" :revision="dashboard.revision" />
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-14);
  align-items: center;
  min-height: 48px;
}
.label {
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--edge);
  padding: var(--space-4) var(--space-2);
}
.small {
  font-size: var(--type-small);
}
/* On a narrow screen the board keeps a width at which its controls can be read. */
.sideways {
  overflow-x: auto;
}
.board {
  min-width: 620px;
  border: 1px solid var(--rule);
  min-height: 300px;
  background: var(--sheet);
}
.placed {
  border: 0 solid var(--rule);
  border-width: 0 1px 1px 0;
  background: var(--paper);
}
.chosen {
  outline: 2px solid var(--verdigris);
  outline-offset: -2px;
}
.grip {
  position: absolute;
  right: 1px;
  top: calc(50% - 11px);
  height: 22px;
  text-align: center;
  cursor: grab;
  color: var(--ink-soft);
  z-index: 2;
  line-height: 22px;
  font-size: var(--type-text);
  width: 16px;
}
.none {
  padding: var(--space-16) 0;
}
</style>
