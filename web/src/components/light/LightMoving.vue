<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Light, Sequence } from '@/api/types'
import { act } from '@/lib/act'
import { effectTraits } from '@/lib/moving'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Light that moves in a room: started and stopped here. */
const props = defineProps<{ light: Light }>()
const home = useHome()
const notices = useNotices()

const all = computed(() => home.sequences.filter((s) => s.effect?.lights?.includes(props.light.id)))
const press = (s: Sequence) =>
  notices.attempt(() => (s.state.running ? act.stopSequence(s.id) : act.startSequence(s.id)))
</script>

<template>
  <section v-if="all.length" class="moving" aria-label="Moving">
    <h2>Moving</h2>
    <ul>
      <li v-for="s in all" :key="s.id" :class="{ now: s.state.running }">
        <RouterLink class="named" :to="`/moving/${s.id}`">{{ s.title }}</RouterLink>
        <button
          type="button"
          class="plain link"
          :aria-label="`${s.state.running ? 'Stop' : 'Start'} ${s.title}`"
          @click="press(s)"
        >
          {{ s.state.running ? 'Stop' : 'Start' }}
        </button>
        <small class="soft">{{ effectTraits[s.effect!.kind].title }}</small>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.moving {
  margin-top: var(--space-26);
}
ul {
  border-top: 1px solid var(--ink);
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 var(--space-10);
  align-items: center;
  min-height: 48px;
  padding: var(--space-6) 0 var(--space-6) var(--space-8);
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid transparent;
}
li.now {
  border-left-color: var(--verdigris);
}
small {
  font-size: var(--type-note);
}
</style>
