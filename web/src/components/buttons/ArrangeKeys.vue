<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { useEventListener } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import type { Device, DeviceEvent, KeyLayout } from '@/api/types'
import { documentOf } from '@/lib/documents'
import { useEdits } from '@/stores/edits'
import { useNotices } from '@/stores/notices'

/** Keys are put where they really sit: dragged from cell to cell, or moved by the arrow keys. */
const props = defineProps<{ device: Device; keys: DeviceEvent[] }>()
const emit = defineEmits<{ done: [] }>()
const edits = useEdits()
const notices = useNotices()

const CELLS = 6
const MOST = 24
const start = (k: DeviceEvent, i: number): KeyLayout => k.layout ?? { column: i, row: 0 }
const places = ref<Record<string, KeyLayout>>(Object.fromEntries(props.keys.map((k, i) => [k.name, start(k, i)])))
const all = computed(() => props.keys.map((k) => ({ key: k, at: places.value[k.name]! })))
const reach = (of: 'column' | 'row') => {
  const size = of === 'column' ? 'width' : 'height'
  return Math.min(MOST, Math.max(CELLS, ...all.value.map((p) => p.at[of] + (p.at[size] || 1) + 1)))
}
const columns = computed(() => reach('column'))
const rows = computed(() => reach('row'))

function put(name: string, column: number, row: number) {
  const at = places.value[name]!
  const within = (v: number, size = 1) => Math.max(0, Math.min(MOST - (size || 1), v))
  const to = { ...at, column: within(column, at.width), row: within(row, at.height) }
  places.value = { ...places.value, [name]: to }
}
const picked = ref(props.keys[0]?.name)
const LONGEST_SIGN = 12
const print = (name: string, sign: string) =>
  (places.value = { ...places.value, [name]: { ...places.value[name]!, sign: sign || undefined } })
const MOVES: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
function key(e: KeyboardEvent, name: string) {
  const move = MOVES[e.key]
  if (!move) return
  e.preventDefault()
  const at = places.value[name]!
  put(name, at.column + move[0], at.row + move[1])
}
const face = useTemplateRef<HTMLElement>('face')
const held = ref<string>()
useEventListener(window, 'pointermove', (e: PointerEvent) => {
  if (!held.value || !face.value) return
  const box = face.value.getBoundingClientRect()
  const cell = (at: number, size: number, count: number) => Math.floor((at / size) * count)
  put(
    held.value,
    cell(e.clientX - box.left, box.width, columns.value),
    cell(e.clientY - box.top, box.height, rows.value),
  )
})
useEventListener(window, ['pointerup', 'pointercancel'], () => (held.value = undefined))

const save = (layout: Record<string, KeyLayout> | undefined) =>
  notices.attempt(async () => {
    const before = documentOf('device', props.device)
    const after = { ...before, layout }
    await edits.now('device', props.device.id, before, after)
    notices.done(`${props.device.title} saved.`, () => edits.now('device', props.device.id, after, before))
    emit('done')
  })
</script>

<template>
  <div class="arrange">
    <div
      ref="face"
      class="face"
      :style="{ '--columns': columns, '--rows': rows }"
      role="group"
      aria-label="Where the keys sit"
    >
      <button
        v-for="{ key: k, at } in all"
        :key="k.name"
        type="button"
        class="plain key mono"
        :class="{ round: at.round, picked: picked === k.name }"
        :aria-label="`${k.title}: column ${at.column + 1}, row ${at.row + 1}`"
        :style="{
          gridColumn: `${at.column + 1} / span ${at.width || 1}`,
          gridRow: `${at.row + 1} / span ${at.height || 1}`,
        }"
        @pointerdown.prevent="picked = held = k.name"
        @focus="picked = k.name"
        @keydown="key($event, k.name)"
      >
        {{ at.sign || k.title }}
      </button>
    </div>
    <p class="soft small">Drag each key to where it really is, or move it with the arrow keys.</p>
    <label v-for="{ key: k, at } in all.filter((p) => p.key.name === picked)" :key="k.name" class="sign small">
      Printed on {{ k.title.toLowerCase() }}
      <InputText
        size="small"
        :model-value="at.sign ?? ''"
        :maxlength="LONGEST_SIGN"
        @update:model-value="print(k.name, $event ?? '')"
      />
    </label>
    <div class="buttons">
      <Button size="small" label="Save" @click="save(places)" />
      <Button size="small" severity="secondary" label="As its profile says" @click="save(undefined)" />
      <Button size="small" severity="secondary" label="Cancel" @click="emit('done')" />
    </div>
  </div>
</template>

<style scoped>
.arrange {
  display: grid;
  gap: var(--space-8);
}
.face {
  display: grid;
  grid-template-columns: repeat(var(--columns), minmax(0, 1fr));
  grid-template-rows: repeat(var(--rows), 40px);
  border: 2px dashed var(--edge);
  border-radius: 12px;
  background: var(--sheet);
  touch-action: none;
}
.key {
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--verdigris-wash);
  cursor: grab;
  overflow: hidden;
}
.picked {
  border-color: var(--verdigris);
}
.sign {
  display: grid;
  gap: var(--space-4);
  max-width: 220px;
}
.round {
  border-radius: 50%;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
}
.small {
  font-size: var(--type-small);
  margin: 0;
}
</style>
