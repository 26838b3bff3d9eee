<script setup lang="ts">
import Button from 'primevue/button'
import { ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Change, RuleDocument } from '@/api/types'
import type { Kept } from '@/lib/drafts'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import ChangedLines from '@/components/documents/ChangedLines.vue'

/** Two browsers changed one draft at the same time: both are there until somebody chooses. */
const props = defineProps<{ rule: string; mine: RuleDocument; theirs: Kept<RuleDocument> }>()
const emit = defineEmits<{ mine: []; theirs: [] }>()
const home = useHome()
const notices = useNotices()

const lines = ref<Change[]>()
const show = () =>
  notices.attempt(async () => {
    lines.value = lines.value
      ? undefined
      : await ask(api.POST('/api/rules/{id}/draft/compare', { params: { path: { id: props.rule } }, body: props.mine }))
  })
watch(
  () => props.theirs.version,
  () => (lines.value = undefined),
)
</script>

<template>
  <section class="clash" role="alert" aria-label="Two drafts">
    <p>
      While you changed this draft here, it was changed in another window at
      {{ home.times.since(theirs.at, home.now) }}. Yours is kept in this browser until you choose; undo brings back what
      you leave.
    </p>
    <p class="buttons">
      <Button severity="secondary" :label="lines ? 'Hide difference' : 'What differs'" @click="show" />
      <Button severity="secondary" label="Take theirs" @click="emit('theirs')" />
      <Button label="Keep mine" @click="emit('mine')" />
    </p>
    <ChangedLines v-if="lines" :lines="lines" />
  </section>
</template>

<style scoped>
.clash {
  border-left: 2px solid var(--ochre);
  padding: var(--space-4) 0 var(--space-4) var(--space-14);
  margin: var(--space-12) 0;
}
.buttons {
  display: flex;
  gap: var(--space-8);
  flex-wrap: wrap;
}
</style>
