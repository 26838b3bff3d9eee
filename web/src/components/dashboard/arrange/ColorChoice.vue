<script setup lang="ts">
/** A color of the palette, or none. */
const model = defineModel<string | undefined>({ required: true })
defineProps<{ label: string }>()
const COLORS = ['verdigris', 'ember', 'ochre', 'slate', 'plum']
</script>

<template>
  <span class="colors" role="radiogroup" :aria-label="label">
    <button
      type="button"
      role="radio"
      class="plain none"
      :aria-checked="!model"
      aria-label="none"
      @click="model = undefined"
    >
      none
    </button>
    <button
      v-for="c in COLORS"
      :key="c"
      type="button"
      role="radio"
      class="plain swatch"
      :style="{ '--swatch': `var(--${c})` }"
      :aria-checked="model === c"
      :aria-label="c"
      :title="c"
      @click="model = c"
    />
  </span>
</template>

<style scoped>
.colors {
  display: flex;
  gap: var(--space-6);
  align-items: center;
}
.swatch {
  width: 28px;
  height: 28px;
  border: 2px solid transparent;
  border-radius: var(--radius);
  background: var(--swatch);
  background-clip: content-box;
  padding: var(--space-2);
}
.none {
  min-height: 28px;
  padding: 0 var(--space-6);
  border-bottom: 2px solid transparent;
}
[aria-checked='true'].swatch {
  border-color: var(--ink);
}
[aria-checked='true'].none {
  border-color: var(--verdigris);
}
</style>
