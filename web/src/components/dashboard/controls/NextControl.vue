<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { useHome } from '@/stores/home'
import { optionOf } from '../cell'
import ControlFace from './ControlFace.vue'

/** What is planned for the next hours. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const ahead = computed(
  () =>
    home.day?.marks
      .filter((m) => m.tone === 'planned' && Date.parse(m.at) >= home.now)
      .slice(0, optionOf(props.control, 'most', 4)) ?? [],
)
</script>

<template>
  <ControlFace grows :title="control.label || 'Next'">
    <template v-if="!ahead.length" #reason>Nothing more is planned today</template>
    <template v-if="ahead.length" #foot>
      <ol>
        <li v-for="m in ahead" :key="m.at + m.text">
          <b class="mono">{{ home.times.clock(m.at) }}</b> {{ m.text }}
        </li>
      </ol>
    </template>
  </ControlFace>
</template>

<style scoped>
ol {
  flex: 1 1 0;
  min-height: 0;
  overflow-y: auto;
  border-left: 1px solid var(--rule);
  margin-left: var(--space-4);
}
li {
  position: relative;
  padding: var(--space-6) 0 var(--space-6) var(--space-14);
  font-size: var(--type-lead);
}
li::before {
  content: '';
  position: absolute;
  left: -5px;
  top: 14px;
  width: 9px;
  height: 9px;
  border: 1.5px solid var(--ink-soft);
  border-radius: 50%;
  background: var(--paper);
}
</style>
