<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Sequence } from '@/api/types'
import MovingStrip from '@/instruments/MovingStrip.vue'
import { act } from '@/lib/act'
import { useWorkedOut } from '@/lib/workedOut'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Light that moves, each with what it is going to do, to be started and stopped. */
const props = defineProps<{ sequence: Sequence }>()
const home = useHome()
const notices = useNotices()
const { shown } = useWorkedOut(
  () => props.sequence.effect,
  (body) => ask(api.POST('/api/sequences/ahead', { body: body! })),
)
const running = computed(() => props.sequence.state.running)
const press = () =>
  notices.attempt(() => (running.value ? act.stopSequence(props.sequence.id) : act.startSequence(props.sequence.id)))
</script>

<template>
  <li>
    <RouterLink class="named" :to="`/moving/${sequence.id}`">{{ sequence.title }}</RouterLink>
    <Button
      size="small"
      severity="secondary"
      :label="running ? 'Stop' : 'Start'"
      :aria-label="`${running ? 'Stop' : 'Start'} ${sequence.title}`"
      @click="press"
    />
    <MovingStrip
      v-if="shown"
      class="strip"
      :ahead="shown"
      :titles="(id) => home.device(id)?.title ?? 'a removed device'"
    />
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--space-8);
  align-items: center;
  padding: var(--space-14) 0;
  border-bottom: 1px solid var(--rule);
}
.strip {
  grid-column: 1 / -1;
}
</style>
