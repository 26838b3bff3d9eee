<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import NoticeAnswers from '@/components/shell/NoticeAnswers.vue'
import { useHome } from '@/stores/home'
import { optionOf, useCell } from '../cell'
import ControlFace from './ControlFace.vue'

/** Questions and messages of rules that nobody answered yet. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const { still } = useCell()
const open = computed(() => home.notices.filter((n) => !n.seenAt && (!n.until || Date.parse(n.until) > home.now)))
const shown = computed(() => open.value.slice(0, optionOf(props.control, 'most', 4)))
</script>

<template>
  <ControlFace grows :title="control.label || 'Messages'" :figure="open.length ? String(open.length) : ''">
    <template v-if="!open.length" #reason>Nothing to answer</template>
    <template v-if="open.length" #foot>
      <ul :inert="still">
        <li v-for="n in shown" :key="n.id">
          <span>
            {{ n.text }} <span class="soft mono">{{ home.times.since(n.at, home.now) }}</span>
          </span>
          <NoticeAnswers :notice="n" large />
        </li>
      </ul>
    </template>
  </ControlFace>
</template>

<style scoped>
ul {
  flex: 1 1 0;
  min-height: 0;
  overflow-y: auto;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: var(--space-8);
  padding: var(--space-8) 0;
  border-top: 1px solid var(--rule);
  font-size: var(--type-lead);
}
</style>
