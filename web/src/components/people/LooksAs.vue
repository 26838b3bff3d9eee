<script setup lang="ts">
import { computed } from 'vue'
import { useNotices } from '@/stores/notices'
import { useSession } from '@/stores/session'

/** Says that an owner sees the home as somebody else does. */
const session = useSession()
const notices = useNotices()
const name = computed(() => session.view?.eyes ?? 'somebody')
</script>

<template>
  <p class="eyes" :class="{ guest: session.guest || session.panel }" role="status">
    You see the home as {{ name }} does.
    <button class="plain back" @click="notices.attempt(() => session.lookAs(''))">Back to your own</button>
  </p>
</template>

<style scoped>
.eyes {
  position: fixed;
  inset: auto 0 0;
  z-index: 950;
  height: var(--eyes-bar);
  padding: var(--space-8) var(--space-26);
  background: var(--plum);
  color: var(--on-strong);
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: center;
}
/* On a phone the places are at the foot; guests have none. */
@media (max-width: 720px) {
  .eyes:not(.guest) {
    bottom: var(--foot-bar);
  }
}
.back {
  margin-left: var(--space-12);
  font-weight: 650;
  text-decoration: underline;
  min-height: var(--touch);
}
</style>
