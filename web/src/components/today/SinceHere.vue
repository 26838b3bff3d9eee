<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Since } from '@/api/types'
import { useHome } from '@/stores/home'
import { isUneventful } from '@/lib/journal'
import { useReading } from '@/lib/reading'
import { useVisit } from '@/stores/visit'
import ErrorNote from '@/components/page/ErrorNote.vue'
import CorrectionRow from './CorrectionRow.vue'
import SinceFigures from './SinceFigures.vue'

/** What happened since somebody was here, and where hands correct rules. */
const home = useHome()
const visit = useVisit()

const since = ref<Since>()
const { failed, again: read } = useReading(async () => {
  since.value = await ask(api.GET('/api/since', { params: { query: { from: new Date(visit.from).toISOString() } } }))
})
onMounted(read)
watch(
  () => [visit.from, home.feed],
  () => home.feed === 'live' && void read(),
)

const title = computed(() =>
  visit.knownHere ? `Since you were here, ${home.times.since(visit.from, home.now)}` : 'In the last 24 hours',
)
const SHOWN = 3
const corrections = computed(() => since.value?.corrections.slice(0, SHOWN) ?? [])
const nothing = computed(() => since.value && isUneventful(since.value) && !corrections.value.length)
</script>

<template>
  <section aria-labelledby="since-here">
    <h2 id="since-here">{{ title }}</h2>
    <ErrorNote v-if="failed" :reason="failed" @again="read" />
    <p v-else-if="!since" class="soft">Looking back …</p>
    <p v-else-if="nothing" class="soft">Nothing happened that you would want to know.</p>
    <ul v-else>
      <SinceFigures :since="since">
        <CorrectionRow v-for="c in corrections" :key="c.rule + c.device" :of="c" />
      </SinceFigures>
    </ul>
  </section>
</template>
