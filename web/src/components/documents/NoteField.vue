<script setup lang="ts">
/** The note of a definition, for whoever looks at it later. */
const note = defineModel<string>()
</script>

<template>
  <textarea
    class="note"
    rows="2"
    :value="note"
    placeholder="A note"
    aria-label="Note"
    maxlength="2000"
    @input="note = ($event.target as HTMLTextAreaElement).value || undefined"
  />
</template>

<style scoped>
.note {
  width: 100%;
  margin-top: var(--space-14);
  background: transparent;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  padding: var(--space-8) var(--space-12);
}
</style>
