<script setup lang="ts">
import { computed } from 'vue'
import { act } from '@/lib/act'
import { MODE, OWN } from '@/lib/own'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** The household's modes on a panel: which it is in, and the others to choose. */
const home = useHome()
const notices = useNotices()
const mode = computed(() => home.state(OWN, MODE)?.value)
const set = (id: string) => notices.attempt(() => act.write(OWN, MODE, id))
</script>

<template>
  <div v-if="home.modes?.modes.length" class="modes" role="group" aria-label="Mode of the house">
    <button
      v-for="m in home.modes.modes"
      :key="m.id"
      type="button"
      class="plain"
      :aria-pressed="m.id === mode"
      @click="set(m.id)"
    >
      {{ m.title }}
    </button>
  </div>
</template>

<style scoped>
.modes {
  margin-top: var(--space-26);
  border-top: 1px solid var(--rule);
}
button {
  display: block;
  width: 100%;
  min-height: 64px;
  padding: 0 0 0 var(--space-14);
  text-align: left;
  font-size: var(--type-title);
  border-bottom: 1px solid var(--rule);
  border-left: 4px solid transparent;
  color: var(--ink-soft);
}
button[aria-pressed='true'] {
  color: var(--ink);
  font-weight: 700;
  border-left-color: var(--verdigris);
  background: var(--sheet);
}
@media (max-width: 900px) {
  .modes {
    display: flex;
    order: 1;
    flex-basis: 100%;
    margin-top: 0;
    overflow-x: auto;
  }
  button {
    width: auto;
    flex: 1 0 auto;
    padding: 0 var(--space-14);
    border-bottom: 0;
    border-left: 0;
    border-top: 4px solid transparent;
  }
  button[aria-pressed='true'] {
    border-top-color: var(--verdigris);
  }
}
</style>
