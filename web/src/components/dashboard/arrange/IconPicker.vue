<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import Popover from 'primevue/popover'
import { ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import BoardIcon from '../BoardIcon.vue'

/** An icon of the shipped set, searched by words. */
const model = defineModel<string | undefined>({ required: true })
defineProps<{ label: string }>()

/** What is offered before anything is typed. */
const USUAL = [
  'lamp',
  'bulb',
  'bolt',
  'window',
  'door',
  'lock',
  'temperature',
  'droplet',
  'sun',
  'moon',
  'music',
  'soup',
]
const REST = 180
const popover = ref<InstanceType<typeof Popover>>()
const words = ref('')
const found = ref(USUAL)
const failed = ref('')
const search = useDebounceFn(async (wanted: string) => {
  try {
    const names = await ask(api.GET('/api/icons', { params: { query: { words: wanted } } }))
    failed.value = ''
    if (wanted === words.value) found.value = names
  } catch {
    failed.value = 'The icons could not be searched.'
  }
}, REST)
watch(words, (now) => (now.trim() ? void search(now) : (found.value = USUAL)))

function choose(name: string | undefined) {
  model.value = name
  popover.value?.hide()
}
</script>

<template>
  <button
    type="button"
    class="plain token"
    :aria-label="`${label}: ${model || 'none'}`"
    @click="popover?.toggle($event)"
  >
    <BoardIcon v-if="model" :name="model" /> {{ model || 'none' }}
  </button>
  <Popover ref="popover">
    <div class="picker">
      <input v-model="words" class="words" type="search" placeholder="Search by a word" aria-label="Search icons" />
      <p v-if="failed" class="failed" role="alert">{{ failed }}</p>
      <p v-else-if="!found.length" class="soft" role="status">No icon for “{{ words }}”</p>
      <div class="found" role="listbox" aria-label="Icons">
        <button
          v-for="name in found"
          :key="name"
          type="button"
          class="plain icon"
          role="option"
          :aria-selected="name === model"
          :aria-label="name"
          :title="name"
          @click="choose(name)"
        >
          <BoardIcon :name="name" :size="26" />
        </button>
      </div>
      <button v-if="model" type="button" class="plain link" @click="choose(undefined)">No icon</button>
    </div>
  </Popover>
</template>

<style scoped>
.picker {
  display: grid;
  gap: var(--space-8);
  width: 316px;
}
.words {
  padding: var(--space-8);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
}
.found {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  max-height: 240px;
  overflow-y: auto;
}
.icon {
  display: grid;
  place-items: center;
  min-height: var(--touch);
}
.icon:hover,
.icon[aria-selected='true'] {
  color: var(--verdigris);
  background: var(--verdigris-wash);
}
.failed {
  color: var(--ember);
}
</style>
