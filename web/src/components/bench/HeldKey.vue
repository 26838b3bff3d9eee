<script setup lang="ts">
import { useHeld } from '@/lib/held'

/**
 * A key of a pretend device: it is down for as long as the pointer, or the space bar or Enter, is. With a time after which it is held it
 * says what a device says that tells this apart by itself; without one it says only that it goes down and up.
 */
const props = defineProps<{ label: string; of: string; heldAfter?: number }>()
const emit = defineEmits<{ down: []; up: []; press: []; hold: []; release: [] }>()

const { down, press, lift } = useHeld(
  () => props.heldAfter,
  (gesture) => {
    if (gesture === 'down') emit('down')
    else if (gesture === 'up') emit('up')
    else if (gesture === 'press') emit('press')
    else if (gesture === 'hold') emit('hold')
    else emit('release')
  },
)
</script>

<template>
  <button
    type="button"
    class="key"
    :class="{ down }"
    :aria-label="`${of}: ${label.toLowerCase()}`"
    :aria-pressed="down"
    title="Down for as long as you hold it"
    @pointerdown="press"
    @keydown.space.enter.prevent="press"
    @keyup.space.enter.prevent="lift"
    @contextmenu.prevent
  >
    {{ label }}
  </button>
</template>

<style scoped>
.key {
  min-height: 36px;
  padding: var(--space-4) var(--space-14);
  border: 1px solid var(--edge);
  border-bottom-width: 3px;
  border-radius: var(--radius);
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
  cursor: pointer;
  touch-action: none;
}
.down {
  border-bottom-width: 1px;
  background: var(--verdigris-wash);
}
</style>
