<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Correction, Since } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import { useVisit } from '@/stores/visit'

/** What happened since somebody was here, and where hands correct rules. */
const home = useHome()
const visit = useVisit()
const notices = useNotices()
const router = useRouter()

const since = ref<Since>()
const failed = ref(false)
async function read() {
  try {
    since.value = await ask(api.GET('/api/since', { params: { query: { from: new Date(visit.from).toISOString() } } }))
    failed.value = false
  } catch {
    failed.value = true
  }
}
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
const all = ref(false)
const nothing = computed(() => {
  const s = since.value
  return (
    s &&
    !s.acted &&
    !corrections.value.length &&
    !s.never.length &&
    !s.commands.length &&
    !s.new.length &&
    !s.silent.length
  )
})
const times = (n: number) => (n === 1 ? 'once' : `${n} times`)

/** Puts the change that would have spared it into a draft of the rule, which is opened. */
const offer = (c: Correction) =>
  notices.attempt(async () => {
    await ask(
      api.PUT('/api/rules/{id}/draft', {
        params: { path: { id: c.rule }, query: { after: 0, based: c.based } },
        body: c.change,
      }),
    )
    await router.push(`/rules/${c.rule}`)
    notices.done('The change is in a draft. Look at it, then put it live.')
  })
const drafted = (c: Correction) => !!home.rule(c.rule)?.draft
</script>

<template>
  <section aria-labelledby="since-here">
    <h2 id="since-here">{{ title }}</h2>
    <p v-if="failed" class="soft" role="status">This could not be read from the hub. It is tried again by itself.</p>
    <p v-else-if="!since" class="soft">Looking back …</p>
    <p v-else-if="nothing" class="soft">Nothing happened that you would want to know.</p>
    <ul v-else>
      <li v-if="since.acted">
        <span class="mono figure">{{ since.acted }}</span>
        <span
          >{{ since.acted === 1 ? 'time a rule' : 'times rules' }} acted, most often
          <template v-for="(r, i) in since.most.slice(0, SHOWN)" :key="r.rule"
            ><template v-if="i">, </template
            ><RouterLink class="link" :to="`/rules/${r.rule}`">{{ r.title }}</RouterLink> ({{ r.count }})</template
          ></span
        >
      </li>
      <li v-for="r in since.failed" :key="r.rule">
        <span class="mono figure alert">{{ r.count }}</span>
        <span
          >{{ r.count === 1 ? 'run' : 'runs' }} of
          <RouterLink class="link" :to="`/rules/${r.rule}`">{{ r.title }}</RouterLink> did not come to the end</span
        >
      </li>
      <li v-for="d in since.commands.slice(0, SHOWN)" :key="d.device">
        <span class="mono figure alert">{{ d.count }}</span>
        <span
          >{{ d.count === 1 ? 'command' : 'commands' }} failed at
          <RouterLink class="link" :to="`/devices/${d.device}`">{{ d.title }}</RouterLink>{{
            d.text ? `: ${d.text}` : ''
          }}
          <RouterLink class="link small" :to="`/journal?entry=${d.entry}`">Why?</RouterLink></span
        >
      </li>
      <li v-for="c in corrections" :key="c.rule + c.device">
        <template v-if="!c.ended">
          <span class="mono figure">{{ c.corrected }} of {{ c.acts }}</span>
          <span>
            times a hand turned <RouterLink class="name" :to="`/devices/${c.device}`">{{ c.deviceTitle }}</RouterLink>
            {{ c.lower ? 'down' : 'up' }} from {{ c.from }} to about {{ c.to }} after
            <RouterLink class="link" :to="`/rules/${c.rule}`">{{ c.ruleTitle }}</RouterLink> had set it.
            <span v-if="c.change && !drafted(c)" class="offer"
              ><Button size="small" severity="secondary" :label="`Let the rule set ${c.to}`" @click="offer(c)" />
              <span class="soft small">as a draft, for you to look at</span></span
            >
            <span v-else-if="drafted(c)" class="soft">The rule has a draft that is not live yet.</span>
          </span>
        </template>
        <template v-else>
          <span class="mono figure">0 of {{ c.actsSince }}</span>
          <span>
            times a hand has corrected
            <RouterLink class="name" :to="`/devices/${c.device}`">{{ c.deviceTitle }}</RouterLink> since you changed
            <RouterLink class="link" :to="`/rules/${c.rule}`">{{ c.ruleTitle }}</RouterLink>,
            {{ home.times.since(c.ended, home.now) }}; before, {{ c.corrected }} of {{ c.acts }}.
          </span>
        </template>
      </li>
      <li v-if="since.never.length">
        <span class="mono figure">{{ since.never.length }}</span>
        <span v-if="!all"
          >{{ since.never.length === 1 ? 'rule' : 'rules' }} did not act.
          <button class="plain link" :aria-expanded="false" @click="all = true">See why</button></span
        >
        <span v-else>
          {{ since.never.length === 1 ? 'rule' : 'rules' }} did not act:
          <span v-for="r in since.never" :key="r.rule" class="never"
            ><RouterLink class="link" :to="`/rules/${r.rule}`">{{ r.title }}</RouterLink
            ><template v-if="r.keptBack"> was kept back {{ times(r.keptBack) }}</template
            ><template v-if="r.reason">. {{ r.reason }}</template></span
          >
        </span>
      </li>
      <li v-if="since.new.length">
        <span class="mono figure">{{ since.new.length }}</span>
        <span
          >{{ since.new.length === 1 ? 'device is' : 'devices are' }} new:
          <template v-for="(d, i) in since.new.slice(0, SHOWN)" :key="d.device"
            ><template v-if="i">, </template
            ><RouterLink class="name" :to="`/devices/${d.device}`">{{ d.title }}</RouterLink></template
          ><template v-if="since.new.length > SHOWN"> and others</template></span
        >
      </li>
      <li v-for="d in since.silent" :key="d.device">
        <span class="mono figure" />
        <span
          ><RouterLink class="name" :to="`/devices/${d.device}`">{{ d.title }}</RouterLink> fell silent.
          <span class="soft">{{ d.text }}</span></span
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr);
  padding: var(--space-4) 0;
  line-height: 1.4;
}
.figure {
  font-size: var(--type-small);
  line-height: 1.6;
  color: var(--ink-soft);
  white-space: nowrap;
}
.alert {
  color: var(--ember);
}
.never {
  display: block;
  font-size: var(--type-small);
  color: var(--ink-soft);
  padding-top: var(--space-4);
}
.name {
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
}
.name:hover {
  text-decoration: underline;
}
.offer {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-8);
  align-items: center;
  margin-top: var(--space-6);
}
.small {
  font-size: var(--type-small);
}
</style>
