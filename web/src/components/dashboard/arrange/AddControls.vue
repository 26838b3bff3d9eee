<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Control, ControlKind } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { narrowed } from '@/lib/choice'
import { useControlKinds } from '@/stores/controlKinds'
import { aimAt } from './aims'
import NewKey from './NewKey.vue'
import UploadPicker from './UploadPicker.vue'

/** What can be put on a dashboard, by kind; a press on one chooses what it is about. */
const emit = defineEmits<{ add: [kind: ControlKind, about: Partial<Control>]; close: [] }>()
const kinds = useControlKinds()
const words = ref('')

const listed = computed(() => {
  const all = kinds.list.map((k) => ({
    value: k.kind as string,
    title: k.title,
    group: k.group,
    note: k.help,
    kind: k,
  }))
  const shown = narrowed(all, words.value)
  return [...new Set(shown.map((k) => k.group))].map((group) => ({
    group,
    kinds: shown.filter((k) => k.group === group).map((k) => ({ ...k.kind, choices: kinds.choices(k.kind) })),
  }))
})
const free = (kind: ControlKind) => kind.subject === 'home' || kind.subject === 'nothing'
const uploading = ref(false)
const NONE: Partial<Record<ControlKind['subject'], string>> = {
  scene: 'No scenes yet',
  sequence: 'No sequences yet',
  light: 'No room’s light yet',
  rule: 'No rules yet',
  camera: 'No camera in this home',
}
</script>

<template>
  <section class="add" aria-labelledby="add-controls">
    <header>
      <h2 id="add-controls">Add a control</h2>
      <button type="button" class="plain link" @click="emit('close')">Done</button>
    </header>
    <input v-model="words" class="words" type="search" placeholder="Search" aria-label="Search controls" />
    <template v-for="g in listed" :key="g.group">
      <h3>{{ g.group }}</h3>
      <ul>
        <li v-for="k in g.kinds" :key="k.kind">
          <button v-if="free(k)" type="button" class="plain token" @click="emit('add', k, {})">{{ k.title }}</button>
          <button v-else-if="k.subject === 'upload'" type="button" class="plain token" @click="uploading = !uploading">
            {{ k.title }}
          </button>
          <TokenPicker
            v-else-if="k.choices.length"
            :model-value="undefined"
            :choices="k.choices"
            :label="`Add: ${k.title}`"
            :empty="k.title"
            lately
            verb
            @update:model-value="emit('add', k, aimAt(k, $event))"
          />
          <span v-else class="soft">{{ k.title }}</span>
          <span class="soft help">{{
            k.choices.length || free(k) || k.subject === 'upload'
              ? k.help
              : (NONE[k.subject] ?? 'Nothing in this home fits')
          }}</span>
          <UploadPicker
            v-if="k.subject === 'upload' && uploading"
            label="Picture"
            :model-value="undefined"
            @chosen="emit('add', k, { upload: $event.id })"
          />
          <NewKey v-if="k.kind === 'rule'" @made="emit('add', k, { rule: $event })" />
        </li>
      </ul>
    </template>
    <p v-if="!listed.length" class="soft">No match</p>
  </section>
</template>

<style scoped>
.add {
  display: grid;
  gap: var(--space-8);
  align-content: start;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
h2,
h3 {
  margin: 0;
}
h3 {
  margin-top: var(--space-10);
}
.words {
  padding: var(--space-6) var(--space-8);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
}
li {
  display: grid;
  justify-items: start;
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
}
.help {
  font-size: var(--type-small);
}
</style>
