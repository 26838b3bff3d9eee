<script setup lang="ts">
import Button from 'primevue/button'
import { onMounted, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Aside } from '@/api/types'
import AsideMend from '@/components/documents/AsideMend.vue'
import ErrorNote from '@/components/page/ErrorNote.vue'
import PlainPage from '@/components/page/PlainPage.vue'
import { useReading } from '@/lib/reading'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import { useSession } from '@/stores/session'

/** What the owner has to see to about the hub itself: definitions that are set aside, and what it cannot keep. */
const home = useHome()
const notices = useNotices()
const session = useSession()
const asides = ref<Aside[]>([])
const { failed, again: read } = useReading(async () => {
  asides.value = await ask(api.GET('/api/set-aside'))
})
onMounted(read)
watch(() => home.needs, read)
const seen = () => notices.attempt(() => ask(api.POST('/api/needs/tried/seen')))
</script>

<template>
  <PlainPage title="Health">
    <template #lead>Whether this hub itself is well, and what it cannot set right by itself.</template>
    <ErrorNote v-if="failed" :reason="failed" @again="read" />
    <p v-if="home.needs.length === 0">All that this home was given is at work, and everything is kept.</p>
    <section v-for="n in home.needs.filter((one) => one.kind !== 'aside')" :key="n.title" class="need">
      <h2>{{ n.title }}</h2>
      <p>{{ n.text }}</p>
      <p v-if="n.since" class="soft small">Since {{ home.times.since(n.since, home.now) }}</p>
      <Button
        v-if="n.kind === 'tried' && session.setsUp"
        size="small"
        severity="secondary"
        label="I know about this"
        @click="seen"
      />
    </section>
    <AsideMend v-for="a in asides" :key="`${a.kind} ${a.id}`" :aside="a" @changed="read" />
    <p class="soft small version">
      Amvek {{ home.about?.version }}. The interface for programs is described at
      <a class="link within" href="/api/openapi.json">/api/openapi.json</a>.
    </p>
  </PlainPage>
</template>

<style scoped>
.need {
  border-bottom: 1px solid var(--rule);
  padding: var(--space-16) 0;
  max-width: 760px;
}
h2 {
  color: var(--ink);
}
.small {
  font-size: var(--type-small);
}
.version {
  margin-top: var(--space-34);
}
</style>
