<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import { MODE, OWN } from '@/lib/own'
import { useHome } from '@/stores/home'
import { useCell } from '../cell'
import ControlFace from './ControlFace.vue'

/** Which mode the house is in, and the others to choose. */
defineProps<{ control: Control }>()
const home = useHome()
const attempt = useAttempt()
const { still, face } = useCell()
const state = computed(() => home.state(OWN, MODE))
const mode = computed(() => home.modes?.modes.find((m) => m.id === state.value?.value))
</script>

<template>
  <ControlFace :title="control.label || 'Mode'" :figure="face === 'small' ? (mode?.title ?? '') : ''">
    <template v-if="state?.changedAt" #reason>since {{ home.times.since(state.changedAt, home.now) }}</template>
    <template #foot>
      <span class="modes" role="group" :aria-label="control.label || 'Mode of the house'">
        <button
          v-for="m in home.modes?.modes"
          :key="m.id"
          type="button"
          class="plain"
          :aria-pressed="m.id === mode?.id"
          :disabled="still"
          @click="attempt(() => act.write(OWN, MODE, m.id))"
        >
          {{ m.title }}
        </button>
      </span>
    </template>
  </ControlFace>
</template>

<style scoped>
.modes {
  display: flex;
  flex-wrap: wrap;
}
button {
  flex: 1 1 auto;
  min-height: 64px;
  min-width: 72px;
  padding: 0 var(--space-12);
  border: 1px solid var(--rule);
  border-top: 4px solid transparent;
  font-size: var(--type-lead);
  color: var(--ink-soft);
}
button + button {
  border-left: 0;
}
button[aria-pressed='true'] {
  border-top-color: var(--verdigris);
  background: var(--sheet);
  color: var(--ink);
  font-weight: 700;
}
</style>
