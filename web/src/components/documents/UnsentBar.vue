<script setup lang="ts">
import { useEdits } from '@/stores/edits'
import EditClash from './EditClash.vue'

/** Edits that could not be saved and that no page shows: until they are saved, answered or given up. */
const edits = useEdits()
</script>

<template>
  <aside v-if="edits.open.length" class="unsent" aria-label="Not saved yet">
    <div v-for="e in edits.open" :key="e.key" class="one">
      <template v-if="e.state === 'asked'">
        <b>{{ e.title || `The ${e.kind}` }} is not saved.</b>
        <EditClash :changes="e.changes" @mine="edits.settle(e.key, 'mine')" @theirs="edits.settle(e.key, 'theirs')" />
      </template>
      <p v-else role="alert">
        <b>{{ e.title || `The ${e.kind}` }} is not saved.</b>
        {{ e.wrong }}
        <template v-if="e.again">Your change is kept in this browser and tried again.</template>
        <button type="button" class="plain link" @click="edits.giveUp(e.key)">Give the change up</button>
      </p>
    </div>
  </aside>
</template>

<style scoped>
.unsent {
  position: fixed;
  left: 138px;
  bottom: 16px;
  z-index: 1400;
  max-width: min(620px, calc(100vw - 158px));
  max-height: 60vh;
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--ochre);
  border-radius: var(--radius);
  padding: var(--space-6) var(--space-14);
}
.one + .one {
  border-top: 1px solid var(--rule);
}
p {
  margin: var(--space-6) 0;
}
</style>
