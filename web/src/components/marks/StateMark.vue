<script setup lang="ts">
import { computed } from 'vue'
import type { PropertyState } from '@/api/types'

/** The small square whose edge and fill tell how certain a value is; never color alone. */
const props = defineProps<{
  mark?: 'on' | 'off' | 'pending' | 'assumed' | 'silent' | 'failed' | 'unknown'
  state?: PropertyState
  silent?: boolean
}>()

const shown = computed(() => {
  if (props.mark) return props.mark
  const s = props.state
  if (!s || s.certainty === 'unknown') return 'unknown'
  if (s.certainty === 'failed' || s.certainty === 'pending') return s.certainty
  if (props.silent) return 'silent'
  if (s.certainty === 'assumed') return 'assumed'
  return s.on ? 'on' : 'off'
})

const words = {
  on: 'on, confirmed',
  off: 'off, confirmed',
  pending: 'asked for, not yet confirmed',
  assumed: 'assumed',
  silent: 'stale, it cannot be reached',
  failed: 'failed',
  unknown: 'not heard of yet',
}
const title = computed(() => (shown.value === 'failed' && props.state?.failure) || words[shown.value])
</script>

<template>
  <span class="mark" :class="shown" role="img" :aria-label="title" :title="title" />
</template>

<style scoped>
.mark {
  display: inline-block;
  flex: none;
  width: 13px;
  height: 13px;
  border-radius: 2px;
  border: 2px solid var(--ink-soft);
}
.on {
  background: var(--verdigris);
  border-color: var(--verdigris);
}
.pending {
  border: 2px dashed var(--ochre);
}
.assumed {
  border: 2px dotted var(--ink-soft);
}
.silent {
  background: repeating-linear-gradient(45deg, var(--ink-soft) 0 1.5px, transparent 1.5px 4px);
}
.failed {
  border-color: var(--ember);
  clip-path: polygon(0 0, 100% 0, 100% 50%, 50% 100%, 0 100%);
}
.unknown {
  border-style: dotted;
  opacity: 0.6;
}
</style>
