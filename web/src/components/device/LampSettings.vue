<script setup lang="ts">
import Button from 'primevue/button'
import InputNumber from 'primevue/inputnumber'
import Select from 'primevue/select'
import { computed, onBeforeUnmount, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { Device, Lighting, Steady } from '@/api/types'
import { act } from '@/lib/act'
import { documentOf } from '@/lib/documents'
import { useEdits } from '@/stores/edits'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** How the hub drives a lamp: the least level without flicker, found by a guided try; who fades it; the whites that it shows. */
const props = defineProps<{ device: Device }>()
const home = useHome()
const edits = useEdits()
const notices = useNotices()

const property = (role: string) =>
  props.device.description.properties.find((p) => p.role === role && p.writable && p.type === 'number')
const brightness = computed(() => property('brightness'))
const white = computed(() => property('colorTemperature'))
/** The lamp's own setting of its lowest level, where it has one. */
const own = computed(() => property('leastLevel'))
const lighting = computed<Lighting>(() => props.device.lighting ?? {})
const least = computed(() => {
  if (!own.value) return lighting.value.leastLevel ?? 0
  const value = home.state(props.device.id, own.value.name)?.value
  return typeof value === 'number' ? value : 0
})

const set = (part: Partial<Lighting>, said: string) =>
  notices.attempt(async () => {
    const before = documentOf('device', props.device)
    const whole = { ...before.lighting, ...part }
    const used = Object.values(whole).some((v) => v !== undefined && v !== '' && v !== 0)
    const after = { ...before, lighting: used ? whole : undefined }
    await edits.now('device', props.device.id, before, after)
    notices.done(said, () => edits.now('device', props.device.id, after, before))
  })

async function choose(level: number) {
  const before = least.value
  if (level === before) return
  if (own.value) await notices.attempt(() => act.write(props.device.id, own.value!.name, level))
  else await set({ leastLevel: level || undefined }, said(level))
  if (own.value) notices.done(said(level), () => restore(before))
}
const said = (level: number) =>
  level > 1
    ? `${props.device.title} is driven from ${level} % on.`
    : `${props.device.title} is driven as low as it goes.`

// The search: what was seen at each level that was shown.
const seen = ref<boolean[]>()
const search = ref<Steady>()
const path = computed(() => ({ params: { path: { id: props.device.id } } }))
async function look(flickered: boolean[]) {
  await notices.attempt(async () => {
    const before = least.value
    search.value = await ask(api.POST('/api/devices/{id}/steady', { ...path.value, body: { flickered } }))
    seen.value = flickered
    if (!search.value.done) return
    seen.value = undefined
    if (!search.value.never) {
      const found = search.value.level
      notices.done(said(found), () => restore(before))
    }
  })
}
const restore = (level: number) =>
  own.value
    ? act.write(props.device.id, own.value.name, level)
    : set({ leastLevel: level || undefined }, `${props.device.title} is driven as before.`)
const leave = () =>
  notices.attempt(async () => {
    await ask(api.DELETE('/api/devices/{id}/steady', path.value))
    seen.value = search.value = undefined
  })
onBeforeUnmount(() => {
  if (seen.value) void leave()
})

const USUAL = 'usual'
const fades = computed(() => [
  { value: USUAL, title: `as usual: ${brightness.value?.fades ? 'by itself' : 'by the hub'}` },
  { value: 'device', title: 'by itself: it is told where to and over how long' },
  { value: 'hub', title: 'by the hub: in small steps' },
])
const declared = computed(() => {
  const p = white.value
  return p && { warmest: p.full?.least ?? p.minimum, coolest: p.full?.most ?? p.maximum }
})
const range = computed(() => lighting.value.white ?? declared.value!)
function whites(part: Partial<{ warmest: number; coolest: number }>) {
  const next = { ...range.value, ...part }
  const whole = next.warmest === declared.value?.warmest && next.coolest === declared.value.coolest
  return set({ white: whole ? undefined : next }, `The whites of ${props.device.title} are changed.`)
}
const show = (kelvin: number) => notices.attempt(() => act.write(props.device.id, white.value!.name, kelvin))
</script>

<template>
  <section v-if="brightness" class="lamp" aria-label="Its light">
    <h2>Its light</h2>
    <article class="option">
      <div class="top">
        <b>Least level without flicker</b>
        <span class="value">
          <InputNumber
            class="number"
            :model-value="least"
            :min="0"
            :max="own?.maximum ?? 60"
            :max-fraction-digits="1"
            suffix=" %"
            aria-label="Least level without flicker"
            @update:model-value="choose($event ?? 0)"
          />
          <Button v-if="!seen" size="small" severity="secondary" label="Find it" @click="look([])" />
        </span>
      </div>
      <p class="small">
        1 % on its slider is this; what lies above is spread over the rest.
        {{ own ? 'The lamp itself keeps it.' : 'The hub keeps it, since the lamp has no setting for it.' }}
      </p>
      <p class="small soft">
        <b>If it is wrong:</b> too low, the lamp flickers or goes out when it is dimmed far down; too high, it never
        gets dim.
      </p>
      <div v-if="seen && search" class="search" role="group" aria-label="Find the least level">
        <p>
          It is at <b class="mono">{{ search.level }} %</b> of its own light. Look at it for some seconds: does it
          flicker, or is it dark?
        </p>
        <p class="row">
          <Button size="small" label="It flickers, or is dark" @click="look([...seen, true])" />
          <Button size="small" label="It is steady" @click="look([...seen, false])" />
          <Button size="small" severity="secondary" label="Stop" @click="leave" />
          <span class="soft small">Step {{ search.step }} of about {{ search.steps }}</span>
        </p>
      </div>
      <p v-else-if="search?.never" class="small failed" role="alert">
        It flickers up to 40 %. Look first at how it is driven: another kind of output, another dimmer, or another lamp.
      </p>
    </article>
    <article class="option">
      <div class="top">
        <b>Fades</b>
        <Select
          :model-value="lighting.fades ?? USUAL"
          :options="fades"
          option-value="value"
          option-label="title"
          aria-label="Who fades it"
          @update:model-value="
            set({ fades: $event === USUAL ? undefined : $event }, `${device.title} fades otherwise.`)
          "
        />
      </div>
      <p class="small">Who brings it evenly from one brightness to another when a scene or a rule fades it.</p>
      <p class="small soft">
        <b>If it is wrong:</b> by itself, a lamp that cannot fade jumps; by the hub, a slow connection makes steps that
        are seen.
      </p>
    </article>
    <article v-if="white && declared" class="option">
      <div class="top">
        <b>Whites that it shows</b>
        <span class="value">
          <InputNumber
            class="number"
            :model-value="range.warmest"
            :min="declared.warmest"
            :max="range.coolest - 100"
            suffix=" K"
            :use-grouping="false"
            aria-label="Warmest white"
            @update:model-value="whites({ warmest: $event ?? declared.warmest })"
          />
          to
          <InputNumber
            class="number"
            :model-value="range.coolest"
            :min="range.warmest + 100"
            :max="declared.coolest"
            suffix=" K"
            :use-grouping="false"
            aria-label="Coolest white"
            @update:model-value="whites({ coolest: $event ?? declared.coolest })"
          />
        </span>
      </div>
      <p class="small">
        Its maker says {{ declared.warmest }} to {{ declared.coolest }} K.
        <button type="button" class="plain link" @click="show(range.warmest)">Show the warmest</button>,
        <button type="button" class="plain link" @click="show(range.coolest)">the coolest</button>, and compare.
      </p>
      <p class="small soft">
        <b>If it is wrong:</b> too wide, it stops following warmer and cooler before the other lamps do; too narrow,
        whites that it could show are left out.
      </p>
    </article>
  </section>
</template>

<style scoped>
.lamp {
  margin-top: var(--space-20);
}
.option {
  padding: var(--space-10) 0;
  border-bottom: 1px solid var(--rule);
}
.top,
.value,
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
}
.top {
  justify-content: space-between;
}
.number :deep(input) {
  width: 96px;
}
.search {
  border-left: 3px solid var(--verdigris);
  background: var(--sheet);
  padding: var(--space-10) var(--space-14);
  margin-top: var(--space-8);
}
.small {
  font-size: var(--type-small);
}
.failed {
  color: var(--ember);
}
</style>
