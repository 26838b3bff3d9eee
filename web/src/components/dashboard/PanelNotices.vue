<script setup lang="ts">
import { computed } from 'vue'
import { useHome } from '@/stores/home'
import NoticeAnswers from '@/components/shell/NoticeAnswers.vue'

/** What rules show on a panel, until it was seen or its time is over. */
const props = defineProps<{ dashboard: string }>()
const home = useHome()

const shown = computed(() =>
  home.notices
    .filter(
      (n) =>
        !n.seenAt &&
        (n.panels === 'all' || n.panels === props.dashboard) &&
        (!n.until || Date.parse(n.until) > home.now),
    )
    .slice(0, 3),
)
</script>

<template>
  <section v-if="shown.length" class="shown" role="status" aria-label="Shown">
    <article v-for="n in shown" :key="n.id">
      <p>
        {{ n.text }} <span class="mono soft at">{{ home.times.since(n.at, home.now) }}</span>
      </p>
      <NoticeAnswers :notice="n" large />
    </article>
  </section>
</template>

<style scoped>
.shown {
  position: sticky;
  bottom: 0;
  align-self: end;
  grid-column: 1 / -1;
  background: var(--sheet);
  border-top: 2px solid var(--ochre);
}
article {
  display: flex;
  gap: var(--space-16);
  align-items: center;
  justify-content: space-between;
  flex-wrap: wrap;
  padding: var(--space-14) var(--space-26);
}
article + article {
  border-top: 1px solid var(--rule);
}
p {
  margin: 0;
  font-size: var(--type-figure);
  flex: 1 1 260px;
}
.at {
  font-size: var(--type-lead);
  margin-left: var(--space-10);
}
</style>
