<script setup lang="ts">
import { ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import type { RunTrace } from '@/api/types'
import { delay } from '@/lib/format'
import { useHome } from '@/stores/home'

/** One run of a rule: what was so at that instant, which steps were taken when, and what became of them. */
const props = defineProps<{
  rule: string
  run: number
  /** Changes whenever there may be more to tell. */ fresh: unknown
}>()
defineEmits<{ close: [] }>()
const home = useHome()
const trace = ref<RunTrace>()
const failed = ref('')

watch(
  () => [props.rule, props.run, props.fresh],
  async () => {
    const { rule, run } = props
    try {
      const read = await ask(api.GET('/api/rules/{id}/runs/{run}', { params: { path: { id: rule, run } } }))
      if (run === props.run) trace.value = read
      failed.value = ''
    } catch (error) {
      trace.value = undefined
      failed.value = reasonOf(error)
    }
  },
  { immediate: true },
)

const after = (at: string) => {
  const ms = new Date(at).getTime() - new Date(trace.value!.at).getTime()
  return delay(ms) && `+${delay(ms)}`
}
const apart = (i: number) => {
  const flips = trace.value!.flips
  const next = flips[i + 1]
  if (!next) return ''
  const ms = new Date(next.at).getTime() - new Date(flips[i]!.at).getTime()
  return ms < 1000 && delay(ms) ? ` for ${delay(ms)}` : ''
}
</script>

<template>
  <section class="trace" aria-label="This run">
    <header>
      <h2>
        <template v-if="trace">{{ home.times.since(trace.at, home.now) }}: {{ trace.text }}</template>
        <template v-else>{{ failed || 'Reading …' }}</template>
      </h2>
      <span>
        <RouterLink class="link small" :to="{ path: '/journal', query: { entry: run } }">In the journal</RouterLink>
        <button
          type="button"
          class="plain soft close"
          aria-label="Close this run"
          title="Close"
          @click="$emit('close')"
        >
          ×
        </button>
      </span>
    </header>
    <template v-if="trace">
      <p v-if="trace.origin" class="small"><span class="soft">It began with: </span>{{ trace.origin }}</p>
      <ol class="lines">
        <li v-for="(l, i) in trace.lines" :key="i" :class="{ idle: !l.path }">
          <span class="mono left">
            <template v-if="l.truth !== undefined"
              ><i :class="{ so: l.truth }" aria-hidden="true" />{{ l.truth ? 'true' : 'false' }}</template
            >
            <b v-else-if="l.trigger">came</b>
            <template v-else-if="l.taken?.length">{{ after(l.taken[0]!.at) }}</template>
          </span>
          <div>
            <span
              :style="{ paddingLeft: l.depth * 16 + 'px' }"
              :class="{ untaken: /^(do|afterwards)\//.test(l.path) && !l.taken?.length && l.truth === undefined }"
              >{{ l.text }}</span
            >
            <span v-if="l.value" class="mono soft value"> {{ l.value }}</span>
            <ul v-if="l.taken?.length" class="did" :style="{ paddingLeft: l.depth * 16 + 'px' }">
              <li v-for="(t, n) in l.taken" :key="n">
                <span v-if="t.round || l.taken.length > 1" class="soft mono"
                  >{{ t.round ? `round ${t.round}, ` : '' }}{{ after(t.at) }}
                </span>
                <span v-if="t.waited" class="soft">waited there </span>
                <span v-for="d in t.did" :key="d.entry" class="what">
                  <RouterLink
                    v-if="d.rule"
                    class="link within"
                    :to="{ path: `/rules/${d.rule}`, query: { run: d.entry } }"
                    title="What it did"
                    >{{ d.text }}</RouterLink><template v-else>{{ d.text }}</template
                  >{{ ' ' }}
                  <b v-if="d.outcome === 'confirmed'" class="done">done</b>
                  <b v-else-if="d.outcome === 'failed'" class="fault">failed</b>
                  <span
                    v-if="d.afterMilliseconds"
                    class="mono soft"
                    title="From what came in until it was on its way"
                    >{{ delay(d.afterMilliseconds) }}</span
                  >
                  <span v-if="d.milliseconds" class="mono soft" title="From then until the device confirmed">
                    + {{ delay(d.milliseconds) }}</span
                  >
                </span>
              </li>
            </ul>
          </div>
        </li>
      </ol>
      <p v-if="trace.left" class="soft small">{{ trace.left }} more steps were taken.</p>
      <template v-if="trace.flips.length">
        <h3>What changed before</h3>
        <ol class="flips">
          <li v-for="(f, i) in trace.flips" :key="i">
            <span class="mono soft">{{ home.times.moment(f.at, home.now) }}</span>
            <span
              >{{ f.text }}: <b>{{ f.truth ? 'true' : 'false' }}</b>{{ apart(i)
              }}<span v-if="f.value" class="mono soft"> {{ f.value }}</span></span
            >
          </li>
        </ol>
      </template>
    </template>
  </section>
</template>

<style scoped>
.trace {
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
  padding: var(--space-12) var(--space-16);
  margin-bottom: var(--space-16);
}
header {
  display: flex;
  justify-content: space-between;
  gap: var(--space-14);
}
h3 {
  font-size: var(--type-small);
  margin: var(--space-12) 0 var(--space-4);
}
.close {
  margin-left: var(--space-12);
  font-size: var(--type-head);
}
.lines {
  margin-top: var(--space-8);
  font-size: var(--type-text);
  line-height: 1.5;
}
.lines > li {
  display: grid;
  grid-template-columns: 74px minmax(0, 1fr);
  gap: var(--space-12);
  padding: var(--space-2) 0;
}
.left {
  text-align: right;
  font-size: var(--type-note);
  line-height: 23px;
  color: var(--ink-soft);
}
.left i {
  display: inline-block;
  width: 10px;
  height: 10px;
  border: 2px solid var(--ink-soft);
  border-radius: 50%;
  margin-right: var(--space-6);
}
.left .so {
  background: var(--verdigris);
  border-color: var(--verdigris);
}
.idle,
.untaken {
  color: var(--ink-soft);
}
.what .mono,
.what b {
  margin-left: var(--space-6);
}
.flips .soft {
  margin-left: var(--space-6);
}
.flips .soft:first-child {
  margin-left: 0;
}
h2 {
  color: var(--ink);
}
.value {
  margin-left: var(--space-8);
  font-size: var(--type-small);
}
.did {
  font-size: var(--type-small);
}
.what {
  display: block;
}
.done {
  color: var(--verdigris);
}
.fault {
  color: var(--ember);
}
.flips {
  font-size: var(--type-small);
}
.flips li {
  display: grid;
  grid-template-columns: 74px 1fr;
  gap: var(--space-12);
}
.small {
  font-size: var(--type-small);
}
</style>
