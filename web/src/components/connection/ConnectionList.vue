<script setup lang="ts">
import { RouterLink } from 'vue-router'
import { standing } from '@/lib/connections'
import { useHome } from '@/stores/home'
import StateMark from '@/components/marks/StateMark.vue'

const home = useHome()
</script>

<template>
  <section>
    <h2>Connections</h2>
    <ul>
      <li v-for="c in home.connections" :key="c.id">
        <div class="row">
          <StateMark :mark="c.up && !c.paused ? 'on' : 'silent'" />
          <RouterLink class="link" :to="`/connections/${c.id}`">{{ c.title }}</RouterLink>
        </div>
        <p class="soft small">{{ standing(c, home.times, home.now) }}</p>
        <p v-if="c.reason && !c.paused" class="wrong small">{{ c.reason }}</p>
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  border-top: 1px solid var(--rule);
  padding: var(--space-8) 0;
}
ul {
  margin-top: var(--space-8);
}
.row {
  display: flex;
  gap: var(--space-8);
  align-items: center;
}
.small {
  font-size: var(--type-small);
  overflow-wrap: anywhere;
}
.wrong {
  color: var(--ember);
}
</style>
