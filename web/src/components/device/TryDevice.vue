<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Device, Trial, TrialStep } from '@/api/types'
import { useLooking } from '@/lib/looking'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** The first test of a device: what is proved, what not, and both streams live. */
const props = defineProps<{ device: Device }>()
const emit = defineEmits<{ look: [names: string[]]; done: [] }>()
const home = useHome()
useLooking('trial')
const notices = useNotices()

const trial = ref<Trial>()
const path = computed(() => ({ id: props.device.id }))

async function read() {
  const { data } = await api.GET('/api/devices/{id}/trial', { params: { path: path.value } })
  trial.value = data
  emit('look', data?.steps.flatMap((s) => s.look) ?? [])
}
async function begin() {
  await notices.attempt(() => ask(api.POST('/api/devices/{id}/trial', { params: { path: path.value } })))
  await read()
}
onMounted(async () => {
  await read()
  if (!trial.value) await begin()
})
/** Many things are observed in a row: they are read once, after a moment. */
const REST = 120
const soon = useTimeoutFn(() => void read(), REST, { immediate: false })
function readSoon() {
  if (!soon.isPending.value) soon.start()
}
onBeforeUnmount(() => emit('look', []))
watch([() => home.trialChanged, () => props.device.revision], readSoon)

const answer = (step: TrialStep, value: string) =>
  notices.attempt(async () => {
    await ask(
      api.POST('/api/devices/{id}/trial/answers', {
        params: { path: path.value },
        body: { step: step.id, answer: value },
      }),
    )
    await read()
  })
async function end() {
  await notices.attempt(() => ask(api.DELETE('/api/devices/{id}/trial', { params: { path: path.value } })))
  emit('done')
}

const states = { proved: 'proved', open: 'not proved yet', broken: 'does not work' }
const settingTitle = (name: string) =>
  props.device.description.properties.find((p) => p.name === name)?.title.toLowerCase() ?? name
const proved = computed(() => trial.value?.steps.filter((s) => s.state === 'proved').length ?? 0)
</script>

<template>
  <section v-if="trial" class="trial" aria-label="Try it">
    <header class="row">
      <h2>Try it</h2>
      <span class="soft small" role="status">{{ proved }} of {{ trial.steps.length }} steps proved</span>
      <span class="grow" />
      <Button size="small" severity="secondary" label="Start over" @click="begin" />
      <Button size="small" severity="secondary" label="Done trying" @click="end" />
    </header>
    <div class="halves">
      <ol class="steps">
        <li v-for="s in trial.steps" :key="s.id" :class="s.state">
          <span class="sign" aria-hidden="true" />
          <div>
            <b>{{ s.title }}</b> <span class="small state">{{ states[s.state] }}</span>
            <p class="small soft">{{ s.evidence || s.how }}</p>
            <p v-if="s.state === 'broken' && s.look.length" class="small look">
              Look first at: {{ s.look.map(settingTitle).join(', ') }}
            </p>
            <p v-if="s.question && (s.state !== 'proved' || s.id === 'direction')" class="small ask">
              {{ s.question }}
              <Button
                v-for="c in s.choices"
                :key="c.value"
                size="small"
                severity="secondary"
                :label="c.title"
                @click="answer(s, c.value)"
              />
            </p>
          </div>
        </li>
      </ol>
      <div class="streams">
        <h3>What it says <span class="soft">and</span> what the hub sends</h3>
        <ol class="stream small mono">
          <li v-for="(line, i) in trial.stream.slice(0, 40)" :key="trial.stream.length - i" :class="line.side">
            <span class="soft">{{ home.times.exact(new Date(line.at).getTime()) }}</span>
            <span :class="{ fault: line.fault }">{{ line.side === 'hub' ? '→' : '←' }} {{ line.text }}</span>
          </li>
          <li v-if="!trial.stream.length" class="soft">Nothing yet. Operate it, here or at itself.</li>
        </ol>
      </div>
    </div>
  </section>
</template>

<style scoped>
.trial {
  margin-top: var(--space-14);
  padding: var(--space-12) var(--space-14);
  border: 1px solid var(--rule);
  background: var(--sheet);
}
.row {
  display: flex;
  gap: var(--space-12);
  align-items: center;
}
.grow {
  flex: 1;
}
h2,
h3 {
  margin: 0;
}
h3 {
  font-size: var(--type-small);
}
.halves {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr);
  gap: var(--space-20);
  margin-top: var(--space-10);
}
.steps,
.stream {
  list-style: none;
  margin: 0;
  padding: 0;
}
.steps li {
  display: flex;
  gap: var(--space-10);
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
}
.sign {
  flex: none;
  width: 13px;
  height: 13px;
  margin-top: var(--space-4);
  border: 2px solid var(--ink-soft);
  border-radius: 50%;
}
.proved .sign {
  background: var(--verdigris);
  border-color: var(--verdigris);
}
.broken .sign {
  border-color: var(--ember);
  clip-path: polygon(0 0, 100% 0, 100% 50%, 50% 100%, 0 100%);
  border-radius: 2px;
}
.proved .state {
  color: var(--verdigris);
}
.broken .state,
.look,
.fault {
  color: var(--ember);
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6);
  align-items: center;
  margin-top: var(--space-4);
}
.small {
  font-size: var(--type-small);
}
.stream {
  max-height: 380px;
  overflow-y: auto;
  margin-top: var(--space-6);
}
.stream li {
  display: flex;
  gap: var(--space-8);
  padding: var(--space-2) 0;
}
.stream .hub {
  color: var(--slate);
}
@media (max-width: 1100px) {
  .halves {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
