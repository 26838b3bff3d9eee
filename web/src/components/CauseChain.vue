<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, Problem } from '@/api/client'
import type { Entry } from '@/api/types'
import { useHome } from '@/stores/home'

/** From where something began to what followed, with the delays between. */
const props = defineProps<{ entry: number | undefined }>()
const home = useHome()
const chain = ref<Entry[]>([])
const failed = ref('')

watch(
  () => props.entry,
  async (entry) => {
    failed.value = ''
    if (!entry) {
      chain.value = []
      return
    }
    try {
      chain.value = await ask(api.GET('/api/journal/{entry}/chain', { params: { path: { entry } } }))
    } catch (error) {
      chain.value = []
      failed.value = error instanceof Problem ? error.message : String(error)
    }
  },
  { immediate: true },
)

/** What a run is known by. */
const runs = new Set(['began', 'ran', 'notStarted'])
const lines = computed(() => {
  const depth = new Map<number, number>()
  return chain.value.map((e, i) => {
    const d = e.parent !== undefined && depth.has(e.parent) ? depth.get(e.parent)! + 1 : 0
    depth.set(e.id, d)
    const first = chain.value[0]!
    const ms = new Date(e.at).getTime() - new Date(first.at).getTime()
    const after = i === 0 ? home.times.exact(e.at) : ms < 10_000 ? `+${ms} ms` : `+${Math.round(ms / 1000)} s`
    return { ...e, depth: Math.min(d, 6), after }
  })
})
</script>

<template>
  <section>
    <h2>How it came about</h2>
    <ol v-if="lines.length" class="chain">
      <li v-for="l in lines" :key="l.id" :class="[l.tone, { chosen: l.id === entry }]">
        <span class="mono after">{{ l.after }}</span>
        <span :style="{ paddingLeft: l.depth * 10 + 'px' }"
          >{{ l.text }}
          <RouterLink
            v-if="l.rule && runs.has(l.kind)"
            class="link"
            :to="{ path: `/rules/${l.rule}`, query: { run: l.id } }"
            >Why</RouterLink
          ></span
        >
      </li>
    </ol>
    <p v-else class="soft none">{{ failed || 'Nothing was written down about it.' }}</p>
  </section>
</template>

<style scoped>
.chain {
  margin-top: 8px;
  font-size: 13.5px;
}
li {
  display: grid;
  grid-template-columns: 76px 1fr;
  gap: 10px;
  padding: 3px 0;
}
.after {
  color: var(--ink-soft);
  font-size: 12.5px;
  line-height: 1.6;
  text-align: right;
}
.hand {
  color: var(--plum);
}
.fault {
  color: var(--ember);
}
.chosen {
  font-weight: 600;
}
.none {
  margin-top: 8px;
  font-size: 13.5px;
}
</style>
