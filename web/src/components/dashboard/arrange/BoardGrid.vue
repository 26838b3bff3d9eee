<script setup lang="ts">
import interact from 'interactjs'
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import type { Control } from '@/api/types'
import { below, moved, resized, within, type Placed } from '@/lib/arranging'
import ControlCell from '../ControlCell.vue'

/**
 * The controls of a dashboard on their grid, to be arranged: dragged, sized at their edges, several at once, or by the arrow
 * keys. What is dragged moves alone, without anything being drawn again; where it is dropped the others make room.
 */
const props = defineProps<{
  controls: Control[]
  columns: number
  /** The height of a row, in px. */
  row: number
  titleOf: (control: Control) => string
}>()
const chosen = defineModel<Set<string>>('chosen', { required: true })
const emit = defineEmits<{ arrange: [places: Placed[]]; remove: []; copy: [] }>()

const SPARE_ROWS = 6
const board = ref<HTMLElement>()
const places = computed<Placed[]>(() =>
  props.controls.map(({ id, column, row, width, height }) => ({ id, column, row, width, height })),
)
const rows = computed(() => below(places.value) + SPARE_ROWS)
const inReadingOrder = computed(() => [...props.controls].sort((a, b) => a.row - b.row || a.column - b.column))

const cell = () => ({ width: board.value!.clientWidth / props.columns, height: props.row })
const idOf = (target: Element) => (target as HTMLElement).dataset.id!

/** What is dragged or sized, and by how much so far, in px. */
let drag = { x: 0, y: 0, columns: 0, rows: 0 }
function draw(name: 'move' | 'size' | '') {
  const style = board.value!.style
  const { width, height } = cell()
  style.setProperty('--x', `${name === 'move' ? drag.x : 0}px`)
  style.setProperty('--y', `${name === 'move' ? drag.y : 0}px`)
  style.setProperty('--more-width', `${name === 'size' ? drag.columns * width : 0}px`)
  style.setProperty('--more-height', `${name === 'size' ? drag.rows * height : 0}px`)
}
function begin(target: Element) {
  const id = idOf(target)
  if (!chosen.value.has(id)) chosen.value = new Set([id])
  drag = { x: 0, y: 0, columns: 0, rows: 0 }
}
function follow(dx: number, dy: number) {
  const { width, height } = cell()
  drag.x += dx
  drag.y += dy
  drag.columns = Math.round(drag.x / width)
  drag.rows = Math.round(drag.y / height)
}
const by = () => ({ columns: drag.columns, rows: drag.rows })
let made: ReturnType<typeof interact> | undefined
onMounted(() => {
  made = interact('.placed', { context: board.value! })
  made.draggable({
    listeners: {
      start: (event: { target: Element }) => begin(event.target),
      move(event: { dx: number; dy: number }) {
        follow(event.dx, event.dy)
        draw('move')
      },
      end() {
        draw('')
        const way = within(places.value, chosen.value, by(), props.columns)
        if (way.columns || way.rows) emit('arrange', moved(places.value, chosen.value, way, props.columns))
      },
    },
    // A finger scrolls the page where it does not touch what is chosen.
    allowFrom: undefined,
    ignoreFrom: '.handle',
  })
  made.resizable({
    edges: { right: '.right', bottom: '.bottom', left: false, top: false },
    listeners: {
      start: (event: { target: Element }) => {
        chosen.value = new Set([idOf(event.target)])
        drag = { x: 0, y: 0, columns: 0, rows: 0 }
      },
      move(event: { deltaRect?: { width: number; height: number } }) {
        follow(event.deltaRect?.width ?? 0, event.deltaRect?.height ?? 0)
        draw('size')
      },
      end() {
        draw('')
        if (drag.columns || drag.rows) emit('arrange', resized(places.value, chosen.value, by(), props.columns))
      },
    },
  })
})
onBeforeUnmount(() => made?.unset())

function choose(event: MouseEvent | KeyboardEvent, id: string) {
  if (event.shiftKey || event.ctrlKey || event.metaKey) {
    const next = new Set(chosen.value)
    if (!next.delete(id)) next.add(id)
    chosen.value = next
  } else if (!(chosen.value.size > 1 && chosen.value.has(id))) chosen.value = new Set([id])
}
function focused(id: string) {
  if (!chosen.value.size) chosen.value = new Set([id])
}

const ways: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
function key(event: KeyboardEvent, id: string) {
  const way = ways[event.key]
  if (way) {
    const ids = chosen.value.has(id) ? chosen.value : new Set([id])
    chosen.value = ids
    const go = event.shiftKey ? resized : moved
    emit('arrange', go(places.value, ids, { columns: way[0], rows: way[1] }, props.columns))
  } else if (event.key === 'Enter' || event.key === ' ') choose(event, id)
  else if (event.key === 'Delete' || event.key === 'Backspace') emit('remove')
  else if (event.key === 'Escape') chosen.value = new Set()
  else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a')
    chosen.value = new Set(props.controls.map((c) => c.id))
  else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'd') emit('copy')
  else return
  event.preventDefault()
}

/** A frame that is drawn over an empty place chooses what it touches. */
const frame = ref<{ left: number; top: number; width: number; height: number }>()
function sweep(event: PointerEvent) {
  if (event.target !== board.value || event.button !== 0 || event.pointerType === 'touch') return
  const box = board.value!.getBoundingClientRect()
  const from = { x: event.clientX - box.left, y: event.clientY - box.top }
  const before = event.shiftKey ? chosen.value : new Set<string>()
  chosen.value = before
  const move = (to: PointerEvent) => {
    const x = to.clientX - box.left
    const y = to.clientY - box.top
    frame.value = {
      left: Math.min(x, from.x),
      top: Math.min(y, from.y),
      width: Math.abs(x - from.x),
      height: Math.abs(y - from.y),
    }
    const { width, height } = cell()
    const f = frame.value
    const touched = places.value.filter(
      (p) =>
        p.column * width < f.left + f.width &&
        (p.column + p.width) * width > f.left &&
        p.row * height < f.top + f.height &&
        (p.row + p.height) * height > f.top,
    )
    chosen.value = new Set([...before, ...touched.map((p) => p.id)])
  }
  const end = () => {
    frame.value = undefined
    window.removeEventListener('pointermove', move)
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', end, { once: true })
}
const words = (c: Control) =>
  `${props.titleOf(c)}: column ${c.column + 1}, row ${c.row + 1}, ${c.width} wide, ${c.height} high${chosen.value.has(c.id) ? ', chosen' : ''}`
</script>

<template>
  <div
    ref="board"
    class="board"
    :style="{ '--columns': columns, '--row': `${row}px`, height: `${rows * row}px` }"
    @pointerdown="sweep"
  >
    <div
      v-for="c in inReadingOrder"
      :key="c.id"
      class="placed"
      :class="{ chosen: chosen.has(c.id) }"
      :data-id="c.id"
      :style="{ '--column': c.column, '--at': c.row, '--width': c.width, '--height': c.height }"
      tabindex="0"
      role="group"
      :aria-label="words(c)"
      @click="choose($event, c.id)"
      @focus="focused(c.id)"
      @keydown.self="key($event, c.id)"
    >
      <div class="content" inert><ControlCell :control="c" still /></div>
      <template v-if="chosen.has(c.id)">
        <span class="handle right" aria-hidden="true" />
        <span class="handle bottom" aria-hidden="true" />
        <span class="handle right bottom corner" aria-hidden="true" />
      </template>
    </div>
    <span
      v-if="frame"
      class="frame"
      :style="{
        left: `${frame.left}px`,
        top: `${frame.top}px`,
        width: `${frame.width}px`,
        height: `${frame.height}px`,
      }"
    />
  </div>
</template>

<style scoped>
.board {
  --x: 0px;
  --y: 0px;
  --more-width: 0px;
  --more-height: 0px;
  position: relative;
  background-image:
    linear-gradient(to right, var(--rule) 1px, transparent 1px),
    linear-gradient(to bottom, var(--rule) 1px, transparent 1px);
  background-size: calc(100% / var(--columns)) var(--row);
  border-right: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
}
.placed {
  position: absolute;
  left: calc(100% / var(--columns) * var(--column));
  top: calc(var(--row) * var(--at));
  width: calc(100% / var(--columns) * var(--width));
  height: calc(var(--row) * var(--height));
  box-shadow: 0 0 0 1px var(--rule);
  cursor: grab;
}
.content {
  height: 100%;
  pointer-events: none;
}
.chosen {
  z-index: 2;
  touch-action: none;
  outline: 2px solid var(--verdigris);
  outline-offset: -2px;
  transform: translate(var(--x), var(--y));
  width: calc(100% / var(--columns) * var(--width) + var(--more-width));
  height: calc(var(--row) * var(--height) + var(--more-height));
}
.placed:focus-visible {
  outline: 3px solid var(--verdigris);
  outline-offset: -3px;
}
.handle {
  position: absolute;
}
.handle.right {
  right: 0;
  top: 0;
  bottom: 0;
  width: 14px;
  cursor: ew-resize;
}
.handle.bottom {
  left: 0;
  right: 0;
  bottom: 0;
  height: 14px;
  cursor: ns-resize;
}
.handle.corner {
  left: auto;
  top: auto;
  width: 26px;
  height: 26px;
  cursor: nwse-resize;
  background: linear-gradient(135deg, transparent 50%, var(--verdigris) 50%);
}
.frame {
  position: absolute;
  z-index: 3;
  border: 1px dashed var(--verdigris);
  background: color-mix(in srgb, var(--verdigris) 10%, transparent);
  pointer-events: none;
}
</style>
