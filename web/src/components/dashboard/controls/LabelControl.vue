<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { usePress } from '@/lib/press'
import BoardIcon from '../BoardIcon.vue'
import { optionOf, useCell } from '../cell'

/** Words of the owner's own. */
const props = defineProps<{ control: Control }>()
const { deed, still } = useCell()
const text = computed(() => optionOf(props.control, 'text', '') || props.control.label || 'Words of your own')
const size = computed(() => optionOf(props.control, 'size', 'heading'))
const button = computed(() => !still.value && !!(deed('tap') ?? deed('double') ?? deed('hold')))
const { handlers } = usePress({
  tap: () => deed('tap')?.(),
  double: () => deed('double'),
  hold: () => deed('hold'),
})
</script>

<template>
  <component :is="button ? 'button' : 'div'" class="plain label" :class="size" v-on="button ? handlers : {}">
    <BoardIcon v-if="control.icon" :name="control.icon" :size="28" />
    <span class="words">{{ text }}</span>
  </component>
</template>

<style scoped>
.label {
  display: flex;
  gap: var(--space-10);
  align-items: center;
  width: 100%;
  height: 100%;
  padding: var(--space-4) var(--space-16);
  overflow: hidden;
  text-align: left;
  color: var(--accent, var(--ink));
  background: color-mix(in srgb, var(--paper) var(--opaque, 100%), transparent);
}
.words {
  white-space: pre-line;
  overflow-wrap: anywhere;
  max-height: 100%;
  overflow-y: auto;
}
.text {
  font-size: var(--type-lead);
}
.heading {
  font-size: var(--type-title);
  font-weight: 650;
  align-items: end;
}
.figure {
  font-size: var(--type-panel);
}
</style>
