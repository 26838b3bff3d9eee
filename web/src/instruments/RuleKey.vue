<script setup lang="ts">
import { computed } from 'vue'
import type { FaceSize } from '@/lib/faces'

/** A rule as a key with a verb on it. It is pressed in while the rule acts, and crossed out while it is off. */
const props = withDefaults(
  defineProps<{
    /** What the rule is called. */
    label: string
    /** What a tap does, or how it is with the rule where a tap does nothing. */
    verb: string
    on?: boolean
    /** Asked for, and not begun yet. */
    pending?: boolean
    failed?: boolean
    size?: FaceSize
    /** Whether it is only looked at. */
    still?: boolean
  }>(),
  { size: 'page' },
)
const emit = defineEmits<{ tap: [] }>()
const words = computed(() => (props.verb ? `${props.label}: ${props.verb}` : props.label))
</script>

<template>
  <component
    :is="still ? 'span' : 'button'"
    :type="still ? undefined : 'button'"
    class="plain key"
    :class="[`at-${size}`, { on, pending, failed, still }]"
    :aria-label="still ? undefined : words"
    @click="still || emit('tap')"
  >
    {{ verb }}
    <svg v-if="failed" viewBox="0 0 10 8" class="notch" aria-hidden="true"><path d="M0 0h10l-5 8z" /></svg>
  </component>
</template>

<style scoped>
.key {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  position: relative;
  padding: 0 var(--space-14);
  border: 1px solid var(--edge);
  border-bottom-width: 4px;
  border-radius: var(--radius);
  color: var(--ink);
}
.at-row {
  min-height: 30px;
  font-size: var(--type-small);
}
.at-page {
  min-height: var(--touch);
}
.at-panel {
  min-height: 64px;
  min-width: 108px;
  font-size: var(--type-lead);
}
.key:not(.still):hover {
  border-color: var(--verdigris);
}
/* Pressed in: its lower edge is gone. */
.on {
  border-color: var(--verdigris);
  border-bottom-width: 1px;
  border-top-width: 4px;
  color: var(--verdigris);
  font-weight: 650;
}
.key:not(.still):active {
  border-bottom-width: 1px;
  border-top-width: 4px;
}
.pending {
  border-color: var(--ochre);
  border-style: dashed;
}
.failed {
  border-color: var(--ember);
  color: var(--ember);
}
.still:not(.on, .failed) {
  color: var(--ink-soft);
  border-bottom-width: 1px;
}
.notch {
  position: absolute;
  top: -1px;
  right: 8px;
  width: 10px;
  fill: var(--ember);
}
</style>
