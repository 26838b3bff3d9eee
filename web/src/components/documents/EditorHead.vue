<script setup lang="ts">
import type { Pick } from '@/api/types'
import KeepAtHand from '@/components/page/KeepAtHand.vue'

/** The head of an editor: a name that is typed in place, what stands below it, and its buttons. */
defineProps<{
  title: string
  label: string
  placeholder?: string
  maxlength?: number
  /** What is kept at hand from here, if it can be. */
  pick?: Pick
}>()
defineEmits<{ 'update:title': [string] }>()
</script>

<template>
  <header class="head">
    <div class="names">
      <input
        class="title"
        :value="title"
        :aria-label="label"
        :placeholder="placeholder"
        :maxlength="maxlength ?? 120"
        :title="title"
        @input="$emit('update:title', ($event.target as HTMLInputElement).value)"
      />
      <div class="soft below"><slot /></div>
    </div>
    <div class="buttons">
      <KeepAtHand v-if="pick" :pick="pick" :title="title" />
      <slot name="buttons" />
    </div>
  </header>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: var(--space-10) var(--space-20);
  align-items: flex-end;
  border-bottom: 1px solid var(--rule);
  padding-bottom: var(--space-12);
}
.names {
  flex: 1 1 340px;
}
.title {
  width: 100%;
  font-size: var(--type-figure);
  font-weight: 650;
  background: transparent;
  border: 0;
  border-bottom: 1px solid transparent;
  padding: 0;
}
.title:hover,
.title:focus {
  border-bottom-color: var(--edge);
}
.below {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
}
</style>
