<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { attentionFirst } from '@/lib/care'
import { useHome } from '@/stores/home'
import { optionOf } from '../cell'
import ControlFace from './ControlFace.vue'

/** What needs somebody: of the hub itself, and of its devices. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const all = computed(() => [
  ...home.needs.map((n) => ({ key: n.kind + n.title, title: n.title, text: n.text ?? '' })),
  ...attentionFirst(home.devices).flatMap((d) =>
    d.care.attention.map((a) => ({ key: d.id + a.kind + (a.property ?? ''), title: d.title, text: a.text })),
  ),
])
const shown = computed(() => all.value.slice(0, optionOf(props.control, 'most', 5)))
</script>

<template>
  <ControlFace
    grows
    :title="control.label || 'Care'"
    :figure="all.length ? String(all.length) : 'all well'"
    :failed="all.length > 0"
  >
    <template v-if="all.length" #foot>
      <ul>
        <li v-for="n in shown" :key="n.key">
          <b>{{ n.title }}</b> <span class="soft">{{ n.text }}</span>
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
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
  font-size: var(--type-text);
}
</style>
