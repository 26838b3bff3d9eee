<script setup lang="ts">
import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { ref } from 'vue'

/**
 * A key of a pretend device: it is down for as long as the pointer, or the space bar, is. With a time after which it is held it
 * says what a device says that tells this apart by itself; without one it says only that it goes down and up.
 */
const props = defineProps<{ label: string; of: string; heldAfter?: number }>()
const emit = defineEmits<{ down: []; up: []; press: []; hold: []; release: [] }>()

const down = ref(false)
const held = ref(false)
const holding = useTimeoutFn(
  () => {
    held.value = true
    emit('hold')
  },
  () => props.heldAfter ?? 0,
  { immediate: false },
)
function press() {
  if (down.value) return
  down.value = true
  held.value = false
  if (props.heldAfter) holding.start()
  else emit('down')
}
function lift() {
  if (!down.value) return
  down.value = false
  holding.stop()
  if (!props.heldAfter) emit('up')
  else if (held.value) emit('release')
  else emit('press')
}
// Wherever the pointer is by then.
useEventListener(window, ['pointerup', 'pointercancel', 'blur'], lift)
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
    @keydown.space.prevent="press"
    @keyup.space.prevent="lift"
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
