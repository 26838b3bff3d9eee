<script setup lang="ts">
import { computed, ref } from 'vue'
import type { DeviceEvent } from '@/api/types'
import { useHeld } from '@/lib/held'

/**
 * The face of a device with its keys where they sit, as its profile says; in a row where it says nothing. A key that was just
 * pressed at the device is lit.
 */
const props = defineProps<{
  label: string
  keys: DeviceEvent[]
  chosen?: string
  /** The key that was pressed just now. */
  lit?: string
  /** What is said below the sign of each key, by its name. */
  notes: Record<string, string>
  /** Whether a key that is pressed here does what the real one would. */
  trying?: boolean
}>()
const emit = defineEmits<{ choose: [string]; gave: [key: string, gesture: string | number | undefined] }>()

/** After so long a key that tells presses and holds apart by itself is held, in ms. */
const HELD_AFTER = 500
const pressed = ref<DeviceEvent>()
const { press, lift } = useHeld(
  () => (pressed.value?.options?.includes('hold') ? HELD_AFTER : undefined),
  (gesture) => {
    const key = pressed.value
    if (!key) return
    const options = key.options ?? []
    if (key.number) return void (gesture === 'down' && emit('gave', key.name, 1))
    if (options.includes(gesture)) return emit('gave', key.name, gesture)
    // A key that sends nothing but that it was pressed.
    if (gesture === 'down' && !options.includes('down')) emit('gave', key.name, options.length ? 'press' : undefined)
  },
)
function touch(key: DeviceEvent) {
  if (!props.trying) return
  pressed.value = key
  press()
}

const placed = computed(() => props.keys.every((k) => k.layout))
const cells = computed(() =>
  props.keys.map((k, i) => {
    const at = placed.value ? k.layout! : { column: i, row: 0 }
    return { key: k, column: at.column, row: at.row, width: at.width || 1, height: at.height || 1 }
  }),
)
const columns = computed(() => Math.max(1, ...cells.value.map((c) => c.column + c.width)))
const sign = (k: DeviceEvent) => k.layout?.sign || (k.role === 'turn' ? '↻' : k.title)
</script>

<template>
  <div class="face" :style="{ '--columns': columns }" role="radiogroup" :aria-label="label">
    <button
      v-for="c in cells"
      :key="c.key.name"
      type="button"
      role="radio"
      class="plain key"
      :class="{ lit: lit === c.key.name, round: c.key.layout?.round }"
      :aria-checked="chosen === c.key.name"
      :aria-label="`${c.key.title}: ${notes[c.key.name]}`"
      :style="{
        gridColumn: `${c.column + 1} / span ${c.width}`,
        gridRow: `${c.row + 1} / span ${c.height}`,
      }"
      @click="emit('choose', c.key.name)"
      @pointerdown="touch(c.key)"
      @keydown.space="$event.repeat || touch(c.key)"
      @keyup.space="lift"
    >
      <b class="mono">{{ sign(c.key) }}</b>
      <small>{{ notes[c.key.name] }}</small>
    </button>
  </div>
</template>

<style scoped>
.face {
  display: grid;
  grid-template-columns: repeat(var(--columns), minmax(64px, 100px));
  grid-auto-rows: minmax(72px, auto);
  width: fit-content;
  max-width: 100%;
  border: 2px solid var(--ink);
  border-radius: 12px;
  overflow: hidden;
  background: var(--sheet);
}
.key {
  display: grid;
  place-content: center;
  justify-items: center;
  gap: var(--space-2);
  padding: var(--space-8);
  border: 0.5px solid var(--rule);
  min-width: min(100px, 100%);
  text-align: center;
}
.key b {
  font-size: var(--type-head);
}
.key small {
  color: var(--ink-soft);
  font-size: var(--type-note);
  overflow-wrap: anywhere;
}
.round {
  border-radius: 50%;
  margin: var(--space-6);
  border: 2px solid var(--edge);
  aspect-ratio: 1;
}
.key[aria-checked='true'] {
  background: var(--verdigris-wash);
  box-shadow: inset 0 -3px var(--verdigris);
}
/* Pressed at the device just now. */
.lit {
  background: var(--verdigris);
  color: var(--on-strong);
}
.lit small {
  color: inherit;
}
</style>
