<script setup lang="ts">
/** Whether what is edited is saved, and if not, why. */
defineProps<{ edit: { saving: { value: 'saved' | 'saving' | 'failed' | 'asked' }; wrong: { value: string } } }>()
</script>

<template>
  <span class="state" :class="edit.saving.value" role="status">
    <template v-if="edit.saving.value === 'saved'">saved</template>
    <template v-else-if="edit.saving.value === 'saving'">saving …</template>
    <template v-else-if="edit.saving.value === 'asked'">not saved: changed in two windows</template>
    <template v-else>not saved: {{ edit.wrong.value }}</template>
  </span>
</template>

<style scoped>
.state {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.failed,
.asked {
  color: var(--ember);
}
</style>
