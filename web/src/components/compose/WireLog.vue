<script setup lang="ts">
import { nextTick, useTemplateRef, watch } from 'vue'
import type { Wire } from '@/api/types'

/** What went over the wire, in order: what the hub sent and what it heard. */
const props = defineProps<{ wire: Wire[] }>()
const log = useTemplateRef('log')
watch(
  () => props.wire,
  async () => {
    await nextTick()
    if (log.value) log.value.scrollTop = log.value.scrollHeight
  },
)
</script>

<template>
  <section class="wire" aria-label="Over the wire">
    <h2>Over the wire</h2>
    <ol v-if="wire.length" ref="log" class="mono" tabindex="0" aria-live="polite">
      <li v-for="(w, i) in wire" :key="i" :class="{ sent: w.sent }">
        <span class="side" :aria-label="w.sent ? 'sent' : 'heard'">{{ w.sent ? '→' : '←' }}</span>
        <pre>{{ w.text }}</pre>
      </li>
    </ol>
    <p v-else class="soft">Nothing yet.</p>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  margin: var(--space-6) 0 0;
  padding: var(--space-6) var(--space-10);
  max-height: 300px;
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  font-size: var(--type-small);
}
li {
  display: flex;
  gap: var(--space-8);
  padding: var(--space-2) 0;
}
.sent {
  color: var(--slate);
}
pre {
  margin: 0;
  font: inherit;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  min-width: 0;
}
</style>
