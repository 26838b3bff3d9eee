<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Reason } from '@/api/types'
import ErrorNote from '@/components/page/ErrorNote.vue'
import { useReading } from '@/lib/reading'

/** Why a rule does not act now: what keeps it first, then what would let it. */
const props = defineProps<{ rule: string; fresh: unknown }>()
defineEmits<{ run: [number] }>()
const reasons = ref<Reason[]>([])
const { failed, again } = useReading(async () => {
  reasons.value = await ask(api.GET('/api/rules/{id}/why-not', { params: { path: { id: props.rule } } }))
})
watch(() => [props.rule, props.fresh], again, { immediate: true })
</script>

<template>
  <ErrorNote v-if="failed" :reason="failed" @again="again" />
  <p v-else-if="!reasons.some((r) => r.keeps)" class="soft small">Nothing keeps it from acting.</p>
  <ol>
    <li v-for="(r, i) in reasons" :key="i" :class="{ keeps: r.keeps }">
      <span class="mark" aria-hidden="true">{{ r.keeps ? '×' : '✓' }}</span>
      <span>
        {{ r.text }}
        <button v-if="r.run" type="button" class="plain link" @click="$emit('run', r.run)">Show</button>
      </span>
    </li>
  </ol>
</template>

<style scoped>
ol {
  margin-top: var(--space-6);
}
li {
  display: grid;
  grid-template-columns: 18px 1fr;
  gap: var(--space-8);
  border-top: 1px solid var(--rule);
  padding: var(--space-4) 0;
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.keeps {
  color: var(--ink);
}
.keeps .mark {
  color: var(--ember);
  font-weight: 700;
}
.small {
  font-size: var(--type-small);
}
</style>
