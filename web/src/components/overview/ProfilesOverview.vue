<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Profile } from '@/api/types'

/** What each profile in use says that its devices offer, beside each other. */
const props = defineProps<{ profiles: Profile[] }>()
const used = computed(() =>
  props.profiles.filter((p) => p.devices).sort((a, b) => b.devices - a.devices || a.title.localeCompare(b.title, 'en')),
)
</script>

<template>
  <section aria-labelledby="profiles-used">
    <p class="soft lead">
      A profile says what a model of device offers and how it is spoken with. It is a W3C Thing Model, a JSON file that
      other programs can read.
    </p>
    <template v-if="used.length">
      <h2 id="profiles-used">What the devices of the home offer</h2>
      <table>
        <tbody>
          <tr v-for="p in used" :key="p.model">
            <th scope="row">
              <RouterLink class="named" :to="`/profiles/${encodeURIComponent(p.model)}`">{{ p.title }}</RouterLink>
            </th>
            <td class="mono soft">{{ p.devices }} ×</td>
            <td class="soft">{{ p.offers.map((o) => o.title).join(', ') }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.lead {
  max-width: 64ch;
}
h2 {
  margin-top: var(--space-20);
}
table {
  width: 100%;
  border-collapse: collapse;
  margin-top: var(--space-8);
}
th,
td {
  text-align: left;
  vertical-align: baseline;
  border-top: 1px solid var(--rule);
  padding: var(--space-6) var(--space-12) var(--space-6) 0;
}
td:nth-child(2) {
  text-align: right;
  white-space: nowrap;
}
</style>
