<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Certainty } from '@/lib/certainty'
import type { FaceSize } from '@/lib/faces'
import LockBolt from './LockBolt.vue'

/**
 * A lock that is worked from here. A tap locks; to unlock it is held for a while, by pointer or key, so that nothing is unlocked
 * by brushing against it. What presses it without holding, such as a screen reader, presses twice.
 */
const props = withDefaults(
  defineProps<{
    label: string
    locked: boolean
    certainty?: Certainty
    size?: FaceSize
  }>(),
  { certainty: 'confirmed', size: 'page' },
)
const emit = defineEmits<{ lock: []; unlock: [] }>()

/** In ms. */
const HOLD = 900
const TWICE_WITHIN = 5000

const holding = ref(false)
/** Whether it was pressed and not held: said, and a second press counts. */
const short = ref(false)
const forgotten = useTimeoutFn(() => (short.value = false), TWICE_WITHIN, { immediate: false })
const held = useTimeoutFn(unlock, HOLD, { immediate: false })
let begun = false
let wasLocked = false

function unlock() {
  holding.value = short.value = false
  emit('unlock')
}
function tooShort() {
  short.value = true
  forgotten.start()
}
function begin() {
  begun = true
  wasLocked = props.locked
  if (!props.locked || holding.value) return
  holding.value = true
  held.start()
}
function end() {
  if (!holding.value) return
  holding.value = false
  held.stop()
  tooShort()
}
function key(event: KeyboardEvent, goes: () => void) {
  if (event.key !== 'Enter' && event.key !== ' ') return
  if (props.locked) event.preventDefault() // it is held, not clicked
  if (!event.repeat) goes()
}
function click() {
  const pressed = begun
  begun = false
  // What unlocked it by holding is let go of: that does not lock it again.
  if (pressed && wasLocked) return
  if (!props.locked) emit('lock')
  else if (short.value) unlock()
  else tooShort()
}
const verb = computed(() => (!props.locked ? 'Lock' : holding.value ? 'Hold on …' : 'Hold to unlock'))
</script>

<template>
  <span class="lock-key" :class="`at-${size}`">
    <button
      type="button"
      class="plain key"
      :class="{ holding }"
      :style="{ '--hold': `${HOLD}ms` }"
      :aria-label="`${label}: ${verb}`"
      @pointerdown.left="begin"
      @pointerup="end"
      @pointercancel="end"
      @pointerleave="end"
      @contextmenu.prevent
      @keydown="key($event, begin)"
      @keyup="key($event, end)"
      @blur="end"
      @click="click"
    >
      <LockBolt :label="label" :locked="locked" :certainty="certainty" :size="size" />
      {{ verb }}
    </button>
    <span role="status" class="soft short">{{ short && locked ? 'Hold it, or press it again.' : '' }}</span>
  </span>
</template>

<style scoped>
.lock-key {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--space-4) var(--space-14);
}
.key {
  position: relative;
  display: inline-flex;
  align-items: center;
  gap: var(--space-14);
  padding: var(--space-6) var(--space-14);
  min-height: var(--touch);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  color: var(--ink);
  touch-action: manipulation;
  user-select: none;
}
.at-panel .key {
  min-height: 64px;
}
.at-row .key {
  min-height: 34px;
  font-size: var(--type-small);
}
.key:hover {
  border-color: var(--verdigris);
}
/* It fills while it is held. */
.key::after {
  content: '';
  position: absolute;
  left: 0;
  bottom: 0;
  height: 4px;
  width: 0;
  background: var(--ochre);
}
.holding::after {
  width: 100%;
  transition: width var(--hold) linear;
}
.short {
  font-size: var(--type-small);
}
</style>
