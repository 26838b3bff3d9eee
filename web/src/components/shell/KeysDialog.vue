<script setup lang="ts">
import Dialog from 'primevue/dialog'
import MarksLegend from '@/components/marks/MarksLegend.vue'

const open = defineModel<boolean>('open', { required: true })

const keys = [
  ['Ctrl K, or /', 'Find or go: devices, rules, scenes, pages, commands'],
  ['?', 'These keys and the marks'],
  ['Alt ↑ ↓', 'Move the step of a rule, also into and out of the steps around it'],
  ['Ctrl Z', 'Undo what was last removed or changed'],
  ['↑ ↓', 'Move in a list'],
  ['Enter', 'Open, choose'],
  ['Arrow keys', 'Move a control on a dashboard; with Shift, size it'],
  ['Esc', 'Close, cancel'],
]
</script>

<template>
  <Dialog v-model:visible="open" modal header="Keys and marks" :style="{ width: '620px' }" :draggable="false">
    <dl>
      <template v-for="[key, what] in keys" :key="key">
        <dt class="mono">{{ key }}</dt>
        <dd>{{ what }}</dd>
      </template>
    </dl>
    <MarksLegend />
  </Dialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 140px 1fr;
  gap: var(--space-6) var(--space-16);
  margin-bottom: var(--space-16);
}
dt {
  color: var(--verdigris);
  font-size: var(--type-small);
}
</style>
