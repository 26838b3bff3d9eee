<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import type { Entry } from '@/api/types'
import EntryWords from '@/components/marks/EntryWords.vue'
import { layChain } from '@/lib/chain'
import { delay } from '@/lib/format'
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
      failed.value = reasonOf(error)
    }
  },
  { immediate: true },
)

/** What a run is known by. */
const runs = new Set(['began', 'ran', 'notStarted'])
const lines = computed(() => layChain(chain.value))
const said = (ms: number) => delay(ms) && `+${delay(ms)}`
</script>

<template>
  <section>
    <h2>How it came about</h2>
    <ol v-if="lines.length" class="chain">
      <li v-for="l in lines" :key="l.id" :class="[l.tone, { chosen: l.id === entry }]">
        <span
          class="mono after"
          :title="l.since && l.since !== l.after ? `${said(l.since)} from where it began` : undefined"
        >
          {{ l.rails.length ? said(l.after) : home.times.moment(l.at, home.now) }}
          <i v-if="l.after" class="bar" :style="{ width: `${Math.round(l.share * 100)}%` }" aria-hidden="true" />
        </span>
        <span class="rails" aria-hidden="true">
          <i v-for="(r, c) in l.rails" :key="c" class="rail" :class="r" />
          <i
            class="node"
            :class="{ root: !l.rails.length, down: l.down }"
            :style="l.by?.who === 'person' ? home.markOf(l.by.id) : undefined"
          />
        </span>
        <span class="text"
          ><EntryWords :entry="l" /> {{ ' '
          }}<RouterLink
            v-if="l.rule && runs.has(l.kind)"
            class="link within"
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
  margin-top: var(--space-8);
  font-size: var(--type-small);
}
li {
  display: grid;
  grid-template-columns: 72px auto minmax(0, 1fr);
  gap: 0 var(--space-8);
}
.text {
  padding: var(--space-4) 0;
}
.after {
  color: var(--ink-soft);
  font-size: var(--type-note);
  line-height: 1.6;
  text-align: right;
  padding-top: var(--space-4);
}
.bar {
  display: block;
  height: 2px;
  margin-left: auto;
  background: var(--ochre);
}
.rails {
  display: flex;
}
.rail {
  position: relative;
  width: 13px;
}
/* A line goes down from the middle of a node; one that turns leads to the node on its right. */
.rail::before,
.rail::after {
  content: '';
  position: absolute;
  left: 4px;
  border: 0 solid var(--edge);
}
.by::before,
.turn::before {
  top: 0;
  bottom: 0;
  border-left-width: 1px;
}
.end::before {
  top: 0;
  height: 14px;
  border-left-width: 1px;
}
.turn::after,
.end::after {
  top: 14px;
  width: 9px;
  border-top-width: 1px;
}
.node {
  position: relative;
  width: 9px;
}
.node::before {
  content: '';
  position: absolute;
  top: 10px;
  width: 9px;
  height: 9px;
  border-radius: 50%;
  border: 1.5px solid currentColor;
  background: var(--paper);
}
.node.down::after {
  content: '';
  position: absolute;
  left: 4px;
  top: 19px;
  bottom: 0;
  border-left: 1px solid var(--edge);
}
.node.root::before,
.chosen .node::before {
  background: currentColor;
}
.hand {
  color: var(--plum);
}
.hand .node {
  color: var(--mark, var(--plum));
}
.fault {
  color: var(--ember);
}
.chosen .text {
  font-weight: 600;
}
.none {
  margin-top: var(--space-8);
  font-size: var(--type-small);
}
</style>
