<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'

/** Labels of one thing, typed or chosen from those that others of its kind carry. */
const labels = defineModel<string[]>({ required: true })
const props = defineProps<{ known: string[]; label: string; inputId: string }>()
const typed = ref('')
const unused = computed(() => [...new Set(props.known)].filter((l) => !labels.value.includes(l)).sort())

function add() {
  const word = typed.value.trim()
  typed.value = ''
  if (word && !labels.value.includes(word)) labels.value = [...labels.value, word]
}
</script>

<template>
  <div class="labels">
    <InputText
      :id="inputId"
      v-model="typed"
      :aria-label="label"
      maxlength="40"
      placeholder="A label, then Enter"
      @keydown.enter.prevent="add"
      @blur="add"
    />
    <span v-for="l in labels" :key="l" class="chip">
      {{ l }}
      <button
        type="button"
        class="plain soft"
        :aria-label="`Take the label ${l} off`"
        @click="labels = labels.filter((x) => x !== l)"
      >
        ×
      </button>
    </span>
    <span v-if="unused.length" class="soft unused">
      in use:
      <button v-for="l in unused" :key="l" type="button" class="plain link" @click="labels = [...labels, l]">
        {{ l }}
      </button>
    </span>
  </div>
</template>

<style scoped>
.labels {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
  font-size: var(--type-text);
}
.unused {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-12);
}
.chip {
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  padding: var(--space-2) var(--space-4) var(--space-2) var(--space-8);
}
.chip button {
  min-width: 24px;
}
</style>
