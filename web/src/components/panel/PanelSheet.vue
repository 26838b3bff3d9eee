<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { ref, type Ref } from 'vue'
import { reasonOf } from '@/api/client'
import type { PanelSettings } from '@/lib/panel/settings'
import { useSession } from '@/stores/session'
import LevelMeter from './LevelMeter.vue'

/** What a panel is, what it sees and hears now, and the way out of it. */
defineProps<{
  senses: { movement: Ref<number>; noise: Ref<number>; blind: Ref<string>; deaf: Ref<string> }
  settings: PanelSettings
  open: boolean
}>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const code = ref('')
const failed = ref('')
async function leave() {
  failed.value = ''
  try {
    await session.comeIn(code.value.trim())
  } catch (error) {
    failed.value = reasonOf(error)
  }
}
</script>

<template>
  <Dialog
    :visible="true"
    modal
    dismissable-mask
    class="panel-sheet"
    :header="session.view?.title"
    @update:visible="emit('close')"
  >
    <p>{{ open ? 'Connected to the hub.' : 'Not connected to the hub.' }}</p>
    <LevelMeter label="Sees" :level="senses.movement.value" :from="settings.seesFrom" :reason="senses.blind.value" />
    <LevelMeter label="Hears" :level="senses.noise.value" :from="settings.hearsFrom" :reason="senses.deaf.value" />
    <p class="soft">Its owner sets it, under Dashboards › Panels.</p>
    <form class="leave" @submit.prevent="leave">
      <label>
        To leave this panel, type a code that its owner shows for a person.
        <input v-model="code" class="mono" aria-label="Code to leave this panel" autocomplete="off" />
      </label>
      <Button type="submit" severity="secondary" label="Leave this panel" :disabled="!code.trim()" />
      <p v-if="failed" class="failed" role="alert">{{ failed }}</p>
    </form>
  </Dialog>
</template>

<style scoped>
.leave {
  display: grid;
  gap: var(--space-10);
  justify-items: start;
  margin-top: var(--space-16);
  padding-top: var(--space-16);
  border-top: 1px solid var(--rule);
}
input {
  display: block;
  width: 100%;
  min-height: 64px;
  margin-top: var(--space-6);
  padding: 0 var(--space-12);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
}
.leave :deep(button) {
  min-height: 64px;
}
.failed {
  color: var(--ember);
  margin: 0;
}
:global(.panel-sheet) {
  width: min(620px, 94vw);
}
</style>
