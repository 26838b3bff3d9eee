<script setup lang="ts">
import Button from 'primevue/button'
import type { Change } from '@/api/types'

/** Two windows changed the same: what each of them made of it, until somebody chooses. */
defineProps<{ changes: Change[] }>()
defineEmits<{ mine: []; theirs: [] }>()
</script>

<template>
  <section class="clash" role="alert" aria-label="Changed in two windows">
    <p>
      The same was changed in another window while you changed it here. Nothing was overwritten: choose which of the two
      counts. All other changes are kept either way.
    </p>
    <dl>
      <template v-for="(c, i) in changes.filter((c) => c.mark !== 'same')" :key="i">
        <dt class="soft">{{ c.mark === 'gone' ? 'There' : 'Here' }}</dt>
        <dd>{{ c.text }}</dd>
      </template>
    </dl>
    <p class="buttons">
      <Button severity="secondary" label="Take theirs" @click="$emit('theirs')" />
      <Button label="Keep mine" @click="$emit('mine')" />
    </p>
  </section>
</template>

<style scoped>
.clash {
  border-left: 2px solid var(--ochre);
  padding: var(--space-4) 0 var(--space-4) var(--space-14);
  margin: var(--space-12) 0;
}
dl {
  display: grid;
  grid-template-columns: 60px 1fr;
  margin: var(--space-8) 0;
}
dd {
  margin: 0;
  font-weight: 650;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
}
</style>
