<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { Aside } from '@/api/types'
import AsideMend from '@/components/documents/AsideMend.vue'
import PageHead from '@/components/page/PageHead.vue'
import { useHome } from '@/stores/home'

/** What the owner has to see to about the hub itself: definitions that are set aside, and what it cannot keep. */
const home = useHome()
const asides = ref<Aside[]>([])
const failed = ref('')

async function read() {
  try {
    asides.value = await ask(api.GET('/api/set-aside'))
    failed.value = ''
  } catch (error) {
    failed.value = error instanceof Problem ? error.message : String(error)
  }
}
onMounted(read)
watch(() => home.needs, read)
</script>

<template>
  <div class="page">
    <PageHead title="Needs you">What the hub itself cannot set right.</PageHead>
    <p v-if="failed" class="fault" role="alert">{{ failed }}</p>
    <p v-if="home.needs.length === 0" class="well">
      Nothing needs you: all that this home was given is at work and kept.
    </p>
    <section v-for="n in home.needs.filter((one) => one.kind !== 'aside')" :key="n.title" class="need">
      <h2>{{ n.title }}</h2>
      <p>{{ n.text }}</p>
      <p v-if="n.since" class="soft small">Since {{ home.times.since(n.since, home.now) }}</p>
    </section>
    <AsideMend v-for="a in asides" :key="`${a.kind} ${a.id}`" :aside="a" @changed="read" />
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow: auto;
  padding: var(--space-20) var(--space-26) var(--space-60);
}
.well {
  margin-top: var(--space-16);
}
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
</style>
