<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import type { Device } from '@/api/types'
import { act } from '@/lib/act'
import { attentionFirst } from '@/lib/care'
import { broken } from '@/lib/ruleStanding'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import DifferenceSettle from '@/components/device/DifferenceSettle.vue'
import NoticeAnswers from '@/components/shell/NoticeAnswers.vue'

/** What waits for somebody, each with the act that mends it. */
const home = useHome()
const notices = useNotices()

type Attention = Device['care']['attention'][number]
const URGENT = 2
const FIRST = 6

/** What was noted is not shown again until it is said otherwise, in this browser. */
const noted = useLocalStorage<Record<string, string>>('amvek.noted', {})
const keyOf = (d: Device, a: Attention) => `${d.id} ${a.kind} ${a.property ?? ''}`
const lost = computed(() => home.connections.filter((c) => c.since && !c.up && !c.paused))
const unseen = computed(() => home.notices.filter((n) => !n.seenAt))
const stopped = computed(() => home.rules.filter((r) => r.enabled && broken(r)))
const cares = computed(() => {
  const gone = new Set(lost.value.map((c) => c.id))
  return attentionFirst(home.devices).flatMap((device) =>
    device.care.attention
      .filter((a) => !(a.kind === 'unreached' && gone.has(device.connection)))
      .filter((a) => a.urgency === URGENT || noted.value[keyOf(device, a)] !== a.kind)
      .map((attention) => ({ device, attention })),
  )
})
const newcomers = computed(() => (home.devices.length ? home.newcomers : 0))
const count = computed(
  () =>
    home.needs.length +
    lost.value.length +
    unseen.value.length +
    stopped.value.length +
    cares.value.length +
    Number(newcomers.value > 0),
)
const all = ref(false)

function again(device: Device, property: string) {
  const state = device.states.find((s) => s.name === property)
  if (state?.target === undefined || state.target === null) return
  const { target } = state
  void notices.attempt(() => act.write(device.id, property, target))
}
const note = (device: Device, a: Attention) => (noted.value = { ...noted.value, [keyOf(device, a)]: a.kind })
</script>

<template>
  <section aria-labelledby="needs-you">
    <h2 id="needs-you">Needs you</h2>
    <p v-if="!count" class="soft none">Nothing. All that can be seen from here is well.</p>
    <ul>
      <li v-for="n in home.needs" :key="n.title">
        <span
          ><b class="alert">{{ n.title }}</b> <span class="soft">{{ n.text }}</span></span
        >
        <Button as="router-link" to="/health" size="small" severity="secondary" label="See to it" />
      </li>
      <li v-for="n in unseen" :key="n.id">
        <span
          >{{ n.text }}
          <RouterLink class="link small" :to="`/journal?entry=${n.entry}`">{{
            home.times.since(n.at, home.now)
          }}</RouterLink></span
        >
        <NoticeAnswers :notice="n" />
      </li>
      <li v-for="c in lost" :key="c.id">
        <span
          ><b class="alert">{{ c.title }}</b> <span class="soft">cannot be reached. {{ c.reason }}</span></span
        >
        <Button as="router-link" :to="`/connections/${c.id}`" size="small" severity="secondary" label="See why" />
      </li>
      <li v-for="r in stopped" :key="r.id">
        <span
          >Rule <b class="alert">{{ r.title }}</b>{{ ' '
          }}<span class="soft">does not act. {{ r.state.stopped || r.state.problems[0]?.message }}</span></span
        >
        <Button as="router-link" :to="`/rules/${r.id}`" size="small" severity="secondary" label="Open the rule" />
      </li>
      <li
        v-for="{ device, attention: a } in all ? cares : cares.slice(0, FIRST)"
        :key="keyOf(device, a)"
        :class="{ wide: a.kind === 'differs' }"
      >
        <DifferenceSettle
          v-if="a.kind === 'differs' && a.property"
          :device="device.id"
          :property="a.property"
          :title="device.title"
          ><RouterLink :to="`/devices/${device.id}`" class="named">{{ device.title }}</RouterLink>
          {{ a.text }}</DifferenceSettle
        >
        <template v-else>
          <span
            ><RouterLink :to="`/devices/${device.id}`" class="named" :class="{ alert: a.urgency === URGENT }">{{
              device.title
            }}</RouterLink
            >{{ ' ' }}<span class="soft">{{ a.text }}</span></span
          >
          <Button
            v-if="a.kind === 'failed' && a.property"
            size="small"
            severity="secondary"
            label="Try again"
            :aria-label="`Try again: ${device.title}`"
            @click="again(device, a.property)"
          />
          <Button
            v-else-if="a.urgency !== URGENT"
            size="small"
            severity="secondary"
            label="Noted"
            :aria-label="`Noted: ${device.title}`"
            @click="note(device, a)"
          />
          <Button
            v-else
            as="router-link"
            :to="`/devices/${device.id}`"
            size="small"
            severity="secondary"
            label="See what to do"
            :title="a.advice"
          />
        </template>
      </li>
      <li v-if="newcomers">
        <span
          ><b>{{ newcomers === 1 ? '1 device' : `${newcomers} devices` }}</b>
          {{ newcomers === 1 ? 'was' : 'were' }} found and not taken in yet.</span
        >
        <Button as="router-link" to="/found" size="small" severity="secondary" label="See them" />
      </li>
    </ul>
    <button v-if="!all && cares.length > FIRST" class="plain link small" @click="all = true">
      Show {{ cares.length - FIRST }} more
    </button>
  </section>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--space-4) var(--space-12);
  align-items: center;
  padding: var(--space-8) 0;
  border-bottom: 1px solid var(--rule);
  line-height: 1.35;
}
.wide {
  grid-template-columns: minmax(0, 1fr);
}
.alert {
  color: var(--ember);
}
.none {
  padding: var(--space-8) 0;
}
.small {
  font-size: var(--type-small);
}
</style>
