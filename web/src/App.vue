<script setup lang="ts">
import { defineAsyncComponent, onMounted } from 'vue'
import { useRoute } from 'vue-router'
import { useLook } from './stores/look'
import { useSession } from './stores/session'

const HomeShell = defineAsyncComponent(() => import('@/components/shell/HomeShell.vue'))
const PanelHome = defineAsyncComponent(() => import('@/components/panel/PanelHome.vue'))
const SignedOut = defineAsyncComponent(() => import('@/components/people/SignedOut.vue'))

/** The home for whoever is in, and the way in for all others. */
const session = useSession()
const route = useRoute()
useLook()
onMounted(() => session.read())
</script>

<template>
  <SignedOut v-if="session.state === 'setUp' || session.state === 'signIn' || route.meta.entrance" />
  <PanelHome v-else-if="session.panel && !session.view?.looksAs" class="panel" />
  <HomeShell v-else-if="session.state" />
  <p v-else class="soft waiting" role="status">{{ session.failed || 'Asking the hub …' }}</p>
</template>

<style scoped>
.panel {
  height: 100vh;
  height: 100dvh;
}
.waiting {
  padding: var(--space-44);
}
</style>
