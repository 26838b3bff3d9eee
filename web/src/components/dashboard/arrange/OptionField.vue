<script setup lang="ts">
import { computed } from 'vue'
import type { ControlOption } from '@/api/types'
import CommitInput from '@/components/inputs/CommitInput.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** One option of a control, as its schema says. */
const model = defineModel<unknown>({ required: true })
const props = defineProps<{ option: ControlOption }>()
const shown = computed(() => model.value ?? props.option.default)

const LONG = 80
/** Why what was typed is no value of the option. */
function number(text: string) {
  const n = Number(text)
  if (!text.trim() || !Number.isInteger(n)) return
  model.value = Math.min(props.option.maximum ?? n, Math.max(props.option.minimum ?? n, n))
}
</script>

<template>
  <label v-if="option.type === 'boolean'" class="row">
    <input type="checkbox" :checked="shown === true" @change="model = ($event.target as HTMLInputElement).checked" />
    {{ option.title }}
  </label>
  <p v-else-if="option.enum?.length" class="row">
    <span class="soft">{{ option.title }}</span>
    <TokenPicker
      :model-value="String(shown)"
      :choices="option.enum.map((e) => ({ value: e, title: e }))"
      :label="option.title"
      @update:model-value="model = $event"
    />
  </p>
  <label v-else-if="option.type === 'integer'" class="row">
    <span class="soft">{{ option.title }}</span>
    <CommitInput
      class="number"
      :value="String(shown ?? '')"
      inputmode="numeric"
      :aria-label="option.title"
      @commit="number"
    />
    {{ option.unit }}
  </label>
  <label v-else class="text">
    <span class="soft">{{ option.title }}</span>
    <textarea
      v-if="(option.maxLength ?? 0) > LONG"
      rows="3"
      :value="String(shown ?? '')"
      :maxlength="option.maxLength"
      :aria-label="option.title"
      @input="model = ($event.target as HTMLTextAreaElement).value || undefined"
    />
    <input
      v-else
      :value="String(shown ?? '')"
      :maxlength="option.maxLength"
      :aria-label="option.title"
      @input="model = ($event.target as HTMLInputElement).value || undefined"
    />
  </label>
</template>

<style scoped>
.row {
  display: flex;
  gap: var(--space-8);
  align-items: center;
  min-height: 34px;
  margin: 0;
}
.text {
  display: grid;
  gap: var(--space-4);
}
.number {
  width: 64px;
}
textarea,
.text input {
  width: 100%;
  padding: var(--space-6) var(--space-8);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
</style>
