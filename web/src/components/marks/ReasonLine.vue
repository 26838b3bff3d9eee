<script setup lang="ts">
import { IconHandStop } from '@tabler/icons-vue'
import { computed } from 'vue'
import type { Holder, PropertyState } from '@/api/types'
import { useHome } from '@/stores/home'

/** Who holds a value and since when, in a line. */
const props = defineProps<{ state: PropertyState }>()
const home = useHome()

const places: Record<string, string> = {
  page: 'By hand',
  panel: 'By hand, on a panel',
  try: 'By hand, trying values',
  api: 'By a program',
  thing: 'By a program',
}

function who(h: Holder): string {
  switch (h.kind) {
    case 'rule':
      return `${h.title} rule`
    case 'scene':
      return `Scene ${h.title}`
    case 'link':
      return `Link ${h.title}`
    case 'mirror':
      return `Mirror ${h.title}`
    case 'sequence':
      return `Sequence ${h.title}`
    case 'schedule':
      return `Schedule ${h.title}`
    case 'curve':
      return 'Switched on'
    case 'device':
      return 'By hand, at the device'
    case 'hand':
      if (h.name) return `By ${h.name}${h.title === 'panel' ? ', at a panel' : ''}`
      return h.owner ? 'Kept by hand' : (places[h.title ?? ''] ?? 'By hand')
    default:
      return 'As found'
  }
}

const top = computed(() => props.state.holders.find((h) => h.inEffect))
const waiting = computed(() => props.state.holders.filter((h) => h.suspended))
const hand = computed(() => top.value?.byHand)
/** The color of the person whose hand it was. */
const color = computed(() => home.markOf(top.value?.id))
const weight = computed(() => !hand.value && (top.value?.level ?? 0) > 0)
</script>

<template>
  <span v-if="state.certainty === 'failed'" class="reason failed">Failed: {{ state.failure }}</span>
  <span v-else-if="state.certainty === 'pending'" class="reason pending"
    >Asked for {{ state.targetText }}, waiting for the device</span
  >
  <span v-else-if="top" class="reason">
    <IconHandStop v-if="hand" class="hand" :style="color" :size="14" stroke="2" aria-hidden="true" />
    <span v-else-if="weight" class="weight" aria-hidden="true" />
    <span :class="{ byhand: hand }">{{ who(top) }} · {{ home.times.since(top.since, home.now) }}</span>
    <span v-if="top.curve"> · follows {{ home.curve(top.curve)?.title ?? 'its day curve' }}</span>
    <span v-if="top.until"> · until {{ home.times.since(top.until, home.now) }}</span>
    <span v-if="waiting[0]">. {{ waiting[0].title }} waits below</span>
  </span>
  <span v-else class="reason">Nobody has set it yet</span>
</template>

<style scoped>
.reason {
  font-size: var(--type-small);
  color: var(--ink-soft);
  overflow-wrap: anywhere;
}
.byhand {
  color: var(--plum);
}
.hand {
  color: var(--mark, var(--plum));
  margin-right: var(--space-4);
  vertical-align: -2px;
}
.failed {
  color: var(--ember);
}
.pending {
  color: var(--ochre);
}
.weight {
  display: inline-block;
  width: 11px;
  height: 9px;
  margin-right: var(--space-4);
  background: var(--ink-soft);
  clip-path: polygon(25% 0, 75% 0, 100% 100%, 0 100%);
}
</style>
