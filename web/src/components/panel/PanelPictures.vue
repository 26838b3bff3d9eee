<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { onMounted, ref, shallowRef } from 'vue'
import { api, ask } from '@/api/client'
import type { Device } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** The pictures that a panel took because it was told to, by hand or by a rule: for its owner alone. */
const props = defineProps<{ panel: Device }>()
const home = useHome()
const notices = useNotices()

const READS_EVERY = 5000
const FIRST = 8
const all = shallowRef<{ made: string; at: number }[]>([])
const more = ref(false)
const chosen = ref<number>()
async function read() {
  all.value = await ask(api.GET('/api/panels/{id}/pictures', { params: { path: { id: props.panel.id } } }))
}
onMounted(() => notices.attempt(read))
useIntervalFn(() => void read().catch(() => undefined), READS_EVERY)
const source = (at: number) => `/api/panels/${encodeURIComponent(props.panel.id)}/pictures/${at}`
</script>

<template>
  <section v-if="all.length" :aria-label="`Pictures that ${panel.title} took`">
    <ul>
      <li v-for="p in more ? all : all.slice(0, FIRST)" :key="p.at">
        <button
          type="button"
          class="plain small"
          :aria-pressed="chosen === p.at"
          @click="chosen = chosen === p.at ? undefined : p.at"
        >
          <img :src="source(p.at)" :alt="`Taken ${home.times.since(p.made, home.now)}`" loading="lazy" />
          <span class="mono">{{ home.times.since(p.made, home.now) }}</span>
        </button>
      </li>
    </ul>
    <button v-if="all.length > FIRST" type="button" class="plain link" @click="more = !more">
      {{ more ? 'Fewer' : `All ${all.length}` }}
    </button>
    <img v-if="chosen" class="large" :src="source(chosen)" alt="The picture, large" />
  </section>
</template>

<style scoped>
ul {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  margin: 0;
  padding: 0;
  list-style: none;
}
.small {
  display: grid;
  gap: var(--space-2);
  min-height: var(--touch);
  border: 1px solid transparent;
  font-size: var(--type-note);
  color: var(--ink-soft);
}
.small[aria-pressed='true'] {
  border-color: var(--verdigris);
}
.small img {
  width: 120px;
  height: 90px;
  object-fit: cover;
}
.large {
  display: block;
  max-width: 100%;
  margin-top: var(--space-8);
}
</style>
