<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { useHome } from '@/stores/home'
import { standing } from '@/lib/connections'

/** All connections beside each other: how much comes over them, for how many devices, and what failed last. */
const home = useHome()
// No column for what no connection has.
const refused = computed(() => home.connections.some((c) => c.faults))
const failed = computed(() => home.connections.some((c) => c.lastFault || c.lastFailure))
const most = computed(() => Math.max(1, ...home.connections.map((c) => c.perMinute)))
</script>

<template>
  <section aria-label="All connections">
    <h2>What comes over them</h2>
    <table>
      <thead>
        <tr>
          <th scope="col">Connection</th>
          <th scope="col" class="number">Devices</th>
          <th scope="col">Messages a minute</th>
          <th v-if="refused" scope="col" class="number">Refused</th>
          <th v-if="failed" scope="col">Last failure</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in home.connections" :key="c.id">
          <th scope="row">
            <RouterLink class="name" :to="`/connections/${c.id}`">{{ c.title }}</RouterLink>
            <span class="soft small" :class="{ down: c.since && !c.up && !c.paused }">{{
              standing(c, home.times, home.now)
            }}</span>
          </th>
          <td class="number mono">{{ c.devices }}</td>
          <td>
            <span class="traffic">
              <i :style="{ width: (c.perMinute / most) * 100 + '%' }" />
              <span class="mono">{{ c.perMinute }}</span>
            </span>
          </td>
          <td v-if="refused" class="number mono">{{ c.faults || '' }}</td>
          <td v-if="failed" class="soft small">{{ c.lastFault || c.lastFailure || '' }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft new">
      Bridges and gateways are connected under <RouterLink class="link" to="/found">Found</RouterLink>.
    </p>
  </section>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
  margin-top: var(--space-8);
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: var(--space-8) var(--space-14) var(--space-8) 0;
  border-bottom: 1px solid var(--rule);
}
thead th {
  font-size: var(--type-note);
  color: var(--ink-soft);
  border-bottom-color: var(--ink);
  padding-block: var(--space-4);
}
.number {
  text-align: right;
}
.name {
  display: block;
  color: var(--ink);
  text-decoration: none;
}
.name:hover {
  text-decoration: underline;
}
.small {
  font-size: var(--type-small);
  font-weight: 400;
}
.down {
  color: var(--ember);
}
.traffic {
  display: grid;
  grid-template-columns: minmax(40px, 120px) auto;
  gap: var(--space-10);
  align-items: center;
}
.traffic i {
  height: 6px;
  background: var(--verdigris);
  min-width: 1px;
}
.new {
  margin-top: var(--space-16);
}
</style>
