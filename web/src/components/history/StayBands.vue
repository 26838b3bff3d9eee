<script setup lang="ts">
import { computed } from 'vue'
import type { Series } from '@/api/types'
import { stayMarks, type Span } from '@/lib/history'
import { useHome } from '@/stores/home'

/** What a choice, a text or a color was, as named stretches over the same time as the chart above it. */
const props = defineProps<{ title: string; series: Series; span: Span; color: string; inset?: boolean }>()
const home = useHome()

const marks = computed(() => stayMarks(props.series, props.span))
const names = computed(() => [...new Set(marks.value.map((m) => m.text))])
/** The same value always has the same tone. */
const tone = (text: string) => 0.85 - 0.6 * (names.value.indexOf(text) / Math.max(1, names.value.length))
</script>

<template>
  <div class="stays" :class="{ inset }">
    <span class="small">{{ title }}</span>
    <ol :aria-label="`${title}: what it was`">
      <li
        v-for="(m, i) in marks"
        :key="i"
        :style="{ left: `${m.left}%`, width: `${m.width}%` }"
        :title="`${m.text}, ${home.times.clock(m.from)} – ${home.times.clock(m.to)}`"
      >
        <i
          aria-hidden="true"
          :style="m.swatch ? { background: m.swatch } : { background: `var(${color})`, opacity: tone(m.text) * 0.6 }"
        />
        <span>{{ m.text }}</span>
      </li>
    </ol>
  </div>
</template>

<style scoped>
.stays {
  padding: var(--space-4) 0 var(--space-4) var(--space-60);
}
.inset {
  padding-right: var(--space-60);
}
ol {
  position: relative;
  height: 24px;
  margin: 0;
  padding: 0;
  list-style: none;
  background: var(--sheet);
  border: 1px solid var(--rule);
  overflow: hidden;
}
li {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--edge);
  overflow: hidden;
  white-space: nowrap;
  font-size: var(--type-note);
  line-height: 22px;
}
li i {
  position: absolute;
  inset: 0;
}
li span {
  position: relative;
  padding-left: var(--space-4);
}
.small {
  font-size: var(--type-note);
}
</style>
