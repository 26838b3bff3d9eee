<script setup lang="ts">
/**
 * What changes the order of a list at one of its rows: a handle, `.handle`, by which the row is dragged, a step up and down for the
 * keyboard, and what takes the row out.
 */
withDefaults(
  defineProps<{
    /** What the row is, within a sentence: "stage 2". */
    what: string
    first: boolean
    last: boolean
    /** What taking it out is called. */
    out?: string
  }>(),
  { out: undefined },
)
defineEmits<{ up: []; down: []; out: [] }>()
</script>

<template>
  <span class="order">
    <button type="button" class="plain soft handle" title="Drag" aria-hidden="true" tabindex="-1">≡</button>
    <button type="button" class="plain soft" :disabled="first" :aria-label="`Move ${what} up`" @click="$emit('up')">
      ↑
    </button>
    <button type="button" class="plain soft" :disabled="last" :aria-label="`Move ${what} down`" @click="$emit('down')">
      ↓
    </button>
    <button type="button" class="plain soft" :aria-label="out ?? `Remove ${what}`" @click="$emit('out')">×</button>
  </span>
</template>

<style scoped>
.order {
  display: flex;
  gap: var(--space-2);
}
.order button {
  min-width: 22px;
  min-height: 28px;
  text-align: center;
}
.handle {
  cursor: grab;
}
</style>
