<script setup lang="ts">
import { useNotices } from '@/stores/notices'

const notices = useNotices()
</script>

<template>
  <div class="notices" aria-live="polite">
    <p v-for="n in notices.list" :key="n.id" :class="{ fault: n.fault }">
      <span>{{ n.text }}</span>
      <button v-if="n.undo" class="plain" @click="notices.undo(n)">Undo</button>
      <button class="plain" aria-label="Dismiss" @click="notices.drop(n.id)">×</button>
    </p>
  </div>
</template>

<style scoped>
.notices {
  position: fixed;
  right: 20px;
  bottom: 16px;
  z-index: 1500;
  display: grid;
  gap: var(--space-6);
  max-width: min(520px, calc(100vw - 40px));
}
p {
  display: flex;
  gap: var(--space-16);
  align-items: baseline;
  background: var(--ink);
  color: var(--paper);
  border-radius: var(--radius);
  padding: var(--space-8) var(--space-14);
  margin: 0;
}
p.fault {
  background: var(--ember);
  color: var(--on-strong);
}
span {
  flex: 1;
}
button {
  font-weight: 650;
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
