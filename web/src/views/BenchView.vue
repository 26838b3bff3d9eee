<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import type { BenchAct, BenchState } from '@/api/types'
import BenchPlace from '@/components/bench/BenchPlace.vue'
import BenchSection from '@/components/bench/BenchSection.vue'
import BenchTools from '@/components/bench/BenchTools.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import { useLooking } from '@/lib/looking'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** The pretend house: everything a person could do in it, done from here. */
const home = useHome()
useLooking('bench')
const notices = useNotices()

const state = ref<BenchState>()
const failed = ref('')
const jumping = ref(false)
const WHILE_FADING = 1000

const who = ref('')
const walker = computed(() => state.value?.people.find((p) => p.name === who.value) ?? state.value?.people[0])

// The place whose things are shown is in the address.
const route = useRoute()
const router = useRouter()
const place = computed({
  get: () => String(route.query.place ?? '') || walker.value?.room || 'Hall',
  set: (place: string) => void router.replace({ query: place ? { place } : {} }),
})

async function read() {
  try {
    state.value = await ask(api.GET('/api/bench'))
    failed.value = ''
  } catch (error) {
    failed.value = reasonOf(error)
  }
}
onMounted(read)
watch(() => home.benchChanged, read)
// Daylight and fades move without anybody doing anything.
let last = 0
watch(
  () => home.now,
  (now) => {
    if (Math.abs(now - last) < WHILE_FADING) return
    last = now
    void read()
  },
)

async function act(body: BenchAct) {
  const jumps = body.what === 'jump' || body.what === 'advance'
  jumping.value = jumps
  await notices.attempt(() => ask(api.POST('/api/bench', { body })))
  jumping.value = false
  await read()
}
</script>

<template>
  <EmptyPage v-if="failed && !state" title="No pretend house here">
    <p>{{ failed }}</p>
    <Button severity="secondary" label="Try again" @click="read" />
  </EmptyPage>
  <div v-else-if="state" class="page">
    <header class="head">
      <div>
        <h1>Bench</h1>
        <p class="soft">The pretend house. What you do here, its devices tell the hub, as real ones would.</p>
      </div>
      <p class="mono when">
        {{ home.times.date(state.now) }} <b>{{ home.times.exact(home.now) }}</b>
      </p>
    </header>
    <div class="columns">
      <div>
        <BenchSection
          :state="state"
          :chosen="place"
          :who="walker?.name ?? ''"
          @update:who="who = $event"
          @act="act"
          @choose="place = $event"
        />
        <BenchPlace v-model="place" :state="state" @act="act" />
      </div>
      <BenchTools :state="state" :walker="walker?.name ?? ''" :jumping="jumping" @walker="who = $event" @act="act" />
    </div>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: var(--space-20) var(--space-26) var(--space-44);
}
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: flex-end;
  border-bottom: 1px solid var(--rule);
  padding-bottom: var(--space-12);
}
.when b {
  font-size: var(--type-title);
  font-weight: 500;
  margin-left: var(--space-8);
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 330px;
  gap: var(--space-34);
  padding-top: var(--space-16);
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
