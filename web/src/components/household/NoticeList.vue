<script setup lang="ts">
import { RouterLink } from 'vue-router'
import { useHome } from '@/stores/home'
import NoticeAnswers from '@/components/shell/NoticeAnswers.vue'

/** What rules told the household, until somebody has seen it. */
const home = useHome()
</script>

<template>
  <section aria-label="Messages">
    <p v-if="!home.notices.length" class="soft">Nothing yet. Rules tell the household something by a step.</p>
    <ul>
      <li v-for="n in home.notices" :key="n.id" :class="{ fresh: !n.seenAt }">
        <span class="mono soft">{{ home.times.since(n.at, home.now) }}</span>
        <span class="text">{{ n.text }}</span>
        <RouterLink class="link small" :to="`/journal?entry=${n.entry}`">Why?</RouterLink>
        <NoticeAnswers v-if="!n.seenAt" :notice="n" />
        <span v-else class="soft small"
          >{{ n.answer ? `“${n.answer}”` : 'seen' }} {{ home.times.since(n.seenAt, home.now) }}</span
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  max-height: 320px;
  overflow-y: auto;
  margin-top: var(--space-6);
}
li {
  display: flex;
  gap: var(--space-12);
  align-items: baseline;
  border-top: 1px solid var(--rule);
  padding: var(--space-6) 0;
}
.text {
  flex: 1;
}
.fresh .text {
  font-weight: 650;
}
.small {
  font-size: var(--type-small);
}
</style>
