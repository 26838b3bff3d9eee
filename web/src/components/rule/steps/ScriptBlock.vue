<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Step } from '@/api/types'
import { readable } from '@/lib/expressions'
import { useHome } from '@/stores/home'
import ScriptEditor from './ScriptEditor.vue'

/** The script of a step: read with names, typed in place. */
const step = defineModel<Step>({ required: true })
const home = useHome()

const open = ref(!step.value.script)
const text = computed({
  get: () => step.value.script ?? '',
  set: (to) => (step.value = { ...step.value, script: to || undefined }),
})
const shown = computed(() =>
  readable(step.value.script ?? '', {
    everything: home.everything,
    groups: home.groups,
    rooms: home.rooms,
    modes: home.modes,
    scenes: home.scenes,
    rules: home.rules,
  }).trimEnd(),
)
</script>

<template>
  <button type="button" class="plain link small" :aria-expanded="open" @click="open = !open">
    {{ open ? 'close the script' : step.script ? 'change the script' : 'write the script' }}
  </button>
  <ScriptEditor v-if="open" v-model="text" class="block" @take="open = false" />
  <pre v-else-if="step.script" class="block mono" tabindex="0" aria-label="The script">{{ shown }}</pre>
</template>

<style scoped>
.block {
  display: block;
  margin: var(--space-6) 0;
  max-width: 720px;
}
pre {
  font-size: var(--type-small);
  line-height: 1.5;
  border-left: 1px solid var(--rule);
  padding-left: var(--space-12);
  overflow-x: auto;
  max-height: 260px;
}
.small {
  font-size: var(--type-small);
}
</style>
