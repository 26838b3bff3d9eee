<script setup lang="ts">
import type { Change } from '@/api/types'

/** Two texts laid over each other: what is gone, and what was added. */
defineProps<{ lines: Change[] }>()
const marks = { same: '', gone: '−', added: '+' }
const words = { same: '', gone: 'gone: ', added: 'new: ' }
</script>

<template>
  <ol class="lines">
    <li v-for="(l, i) in lines" :key="i" :class="l.mark">
      <span class="mono" aria-hidden="true">{{ marks[l.mark] }}</span>
      <span :style="{ paddingLeft: l.depth * 16 + 'px' }"
        ><span class="hidden">{{ words[l.mark] }}</span
        >{{ l.text }}</span
      >
    </li>
  </ol>
</template>

<style scoped>
.lines {
  font-size: var(--type-text);
  line-height: 1.5;
}
li {
  display: grid;
  grid-template-columns: 18px 1fr;
  padding: 1px var(--space-6);
}
.gone {
  color: var(--ember);
  text-decoration: line-through;
}
.added {
  background: var(--verdigris-wash);
  font-weight: 650;
}
.hidden {
  position: absolute;
  clip-path: inset(50%);
}
</style>
