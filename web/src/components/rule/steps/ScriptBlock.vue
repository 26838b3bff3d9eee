<script setup lang="ts">
import { computed, ref } from 'vue'
import { readable } from '@/lib/expressions'
import { useHome } from '@/stores/home'
import ScriptEditor from './ScriptEditor.vue'

/** The script of a step: read with names, typed in place. */
const props = defineProps<{ modelValue: string | undefined }>()
const emit = defineEmits<{ 'update:modelValue': [string | undefined] }>()
const home = useHome()

const open = ref(!props.modelValue)
const text = computed({
  get: () => props.modelValue ?? '',
  set: (to) => emit('update:modelValue', to || undefined),
})
const shown = computed(() =>
  readable(props.modelValue ?? '', {
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
    {{ open ? 'close the script' : modelValue ? 'change the script' : 'write the script' }}
  </button>
  <ScriptEditor v-if="open" v-model="text" class="block" @take="open = false" />
  <pre v-else-if="modelValue" class="block mono" tabindex="0" aria-label="The script">{{ shown }}</pre>
</template>

<style scoped>
.block {
  display: block;
  margin: 6px 0;
  max-width: 720px;
}
pre {
  font-size: 13.5px;
  line-height: 1.5;
  border-left: 1px solid var(--rule);
  padding-left: 12px;
  overflow-x: auto;
  max-height: 260px;
}
.small {
  font-size: 14px;
}
</style>
