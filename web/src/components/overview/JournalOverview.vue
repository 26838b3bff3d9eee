<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { Since } from '@/api/types'
import ErrorNote from '@/components/page/ErrorNote.vue'
import SinceFigures from '@/components/today/SinceFigures.vue'
import { useReading } from '@/lib/reading'
import { useHome } from '@/stores/home'
import { isUneventful } from '@/lib/journal'

/** What the last day came to. */
const home = useHome()
const DAY_MS = 86_400_000
const since = ref<Since>()
const { failed, again: read } = useReading(async () => {
  const from = new Date(home.now - DAY_MS).toISOString()
  since.value = await ask(api.GET('/api/since', { params: { query: { from } } }))
})
onMounted(read)
</script>

<template>
  <section aria-labelledby="last-day">
    <h2 id="last-day">In the last 24 hours</h2>
    <ErrorNote v-if="failed" :reason="failed" @again="read" />
    <p v-else-if="since && isUneventful(since)" class="soft">Nothing happened that you would want to know.</p>
    <ul v-else-if="since">
      <SinceFigures :since="since" />
    </ul>
  </section>
</template>
