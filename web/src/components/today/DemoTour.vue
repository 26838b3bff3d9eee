<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { RouterLink } from 'vue-router'

/** In the demo, what to try first: four acts that show what Amvek is. */
const hidden = useLocalStorage('amvek.tour-hidden', false)
</script>

<template>
  <section v-if="!hidden" class="tour" aria-labelledby="tour">
    <h2 id="tour">Try it in this pretend house</h2>
    <ol>
      <li>Tap a pendant in the table: its lamp is switched.</li>
      <li>
        Open the lamp under <RouterLink class="link" to="/devices">Devices</RouterLink>: below its value stands why it
        is so.
      </li>
      <li>
        On the <RouterLink class="link" to="/bench">Bench</RouterLink> point at the Landing: Nell walks there, and a
        rule lights the Stair lamp.
      </li>
      <li>Take it back: <i>Let go</i> on the lamp’s page, or tap its pendant. The rule says that a hand was there.</li>
    </ol>
    <button type="button" class="plain link small" @click="hidden = true">Hide this</button>
  </section>
</template>

<style scoped>
.tour {
  border: 1px solid var(--rule);
  background: var(--sheet);
  padding: var(--space-10) var(--space-16);
  margin-bottom: var(--space-16);
}
ol {
  list-style: decimal inside;
  columns: 300px;
  column-gap: var(--space-26);
  margin-block: var(--space-6);
}
li {
  break-inside: avoid;
  padding-block: var(--space-2);
}
.small {
  font-size: var(--type-small);
}
</style>
