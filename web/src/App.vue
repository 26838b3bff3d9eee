<script setup lang="ts">
import { defineAsyncComponent, onMounted } from 'vue'
import { useRoute } from 'vue-router'
import { useLook } from './stores/look'
import { useSession } from './stores/session'
import { BEGUN } from './lib/panel/settings'

const shell = () => import('@/components/shell/HomeShell.vue')
const wall = () => import('@/components/panel/PanelHome.vue')
const HomeShell = defineAsyncComponent(shell)
const PanelHome = defineAsyncComponent(wall)
const SignedOut = defineAsyncComponent(() => import('@/components/people/SignedOut.vue'))

/** The home for whoever is in, and the way in for all others. */
const session = useSession()
const route = useRoute()
useLook()
// What will be shown is read while the hub is asked who this is.
void (localStorage.getItem(BEGUN) === 'yes' ? wall() : shell()).catch(() => undefined)
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
