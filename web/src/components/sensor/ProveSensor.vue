<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import Select from 'primevue/select'
import { computed, defineAsyncComponent, ref } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { Adjustment, Device, Proof, Property } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

const ProofChart = defineAsyncComponent(() => import('./ProofChart.vue'))

/** Proves a sensor by a trusted one that hung beside it: compared, calibrated, compared again, taken back. */
const props = defineProps<{ device: Device; property: Property }>()
const home = useHome()
const notices = useNotices()

const present = computed(() => props.device.adjustments?.[props.property.name])
const others = computed(() =>
  home.devices
    .flatMap((d) =>
      d.description.properties
        .filter((p) => p.type === 'number' && p.unit === props.property.unit && p.role === props.property.role)
        .filter((p) => d.id !== props.device.id || p.name !== props.property.name)
        .map((p) => ({ value: `${d.id} ${p.name}`, title: `${d.title}, ${home.roomTitle(d.room) || 'no room yet'}` })),
    )
    .sort((a, b) => a.title.localeCompare(b.title)),
)
const spans = [1, 4, 12, 24, 72, 168].map((value) => ({
  value,
  title: value < 48 ? `${value} h` : `${value / 24} days`,
}))
const trusted = ref('')
const hours = ref(4)
const past = ref(false)
const proof = ref<Proof>()
const wrong = ref('')
const reading = ref(false)

const path = computed(() => ({ id: props.device.id, property: props.property.name }))
const say = (n: number) =>
  `${n > 0 ? '+' : n < 0 ? '−' : ''}${Math.abs(n).toFixed(2)} ${props.property.unit ?? ''}`.trim()

async function compare() {
  const [id, name] = trusted.value.split(' ')
  if (!id || !name) return
  reading.value = true
  wrong.value = ''
  try {
    proof.value = await ask(
      api.GET('/api/devices/{id}/properties/{property}/proof', {
        params: { path: path.value, query: { trusted: id, trustedProperty: name, hours: hours.value } },
      }),
    )
  } catch (error) {
    proof.value = undefined
    wrong.value = error instanceof Problem ? (error.places[0]?.message ?? error.message) : String(error)
  }
  reading.value = false
}

const put = (body: Adjustment | undefined) =>
  body
    ? ask(api.PUT('/api/devices/{id}/properties/{property}/adjustment', { params: { path: path.value }, body }))
    : ask(api.DELETE('/api/devices/{id}/properties/{property}/adjustment', { params: { path: path.value } }))
const change = (body: Adjustment | undefined, said: string) =>
  notices.attempt(async () => {
    const before = present.value
    await put(body)
    notices.done(said, async () => {
      await put(before)
      if (proof.value) await compare()
    })
    if (proof.value) await compare()
  })
const apply = (by: Adjustment) =>
  change(
    { ...by, from: past.value ? undefined : new Date(home.now).toISOString() },
    `${props.device.title} is calibrated.`,
  )
const takeBack = () => change(undefined, `The readings of ${props.device.title} are taken as they come.`)

const precisions = [0, 0.1, 0.5, 1, 5].map((value) => ({ value, title: value ? `${value}` : 'as they come' }))
const smoothings = [0, 60, 300, 1800].map((value) => ({ value, title: value ? `${value / 60} min` : 'none' }))
const option = (part: Partial<Adjustment>) =>
  change({ offset: 0, ...present.value, ...part }, `${props.device.title} is read as you chose.`)
</script>

<template>
  <section class="prove">
    <p class="soft small">
      Hang it beside a sensor that you trust for some hours, then compare. History is kept as it was read, so a
      calibration can be taken back at any time.
    </p>
    <form class="row" @submit.prevent="compare">
      <Select
        v-model="trusted"
        size="small"
        :options="others"
        option-label="title"
        option-value="value"
        placeholder="Choose the trusted sensor"
        aria-label="Trusted sensor"
      />
      <Select
        v-model="hours"
        size="small"
        :options="spans"
        option-label="title"
        option-value="value"
        aria-label="Compare over the last"
      />
      <Button type="submit" size="small" :label="reading ? 'Comparing …' : 'Compare'" :disabled="!trusted || reading" />
    </form>
    <p v-if="!others.length" class="soft small">There is no other sensor of this kind in the home.</p>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <template v-if="proof">
      <ProofChart
        :proof="proof"
        :suspect="device.title"
        :trusted="others.find((o) => o.value === trusted)?.title ?? ''"
      />
      <p class="found" role="status">
        It differs by <b class="mono">{{ say(-proof.offset) }}</b>, give or take
        <b class="mono">{{ proof.spread.toFixed(2) }}</b>: the median of {{ proof.pairs.length }} comparisons from
        {{ home.times.since(proof.from, home.now) }} to {{ home.times.since(proof.to, home.now) }}.
      </p>
      <p v-if="proof.frozen" class="wrong">
        It said the same all the time though the other one changed: it may be stuck.
      </p>
      <div class="row">
        <Button size="small" :label="`Add ${say(proof.proposed.offset)}`" @click="apply(proof.proposed)" />
        <Button
          v-if="proof.sloped"
          size="small"
          severity="secondary"
          :label="`Times ${proof.sloped.slope?.toFixed(3)}, then ${say(proof.sloped.offset)}`"
          @click="apply(proof.sloped)"
        />
        <label class="row small"><Checkbox v-model="past" binary aria-label="Also the past" /> also the past</label>
      </div>
      <p v-if="!proof.sloped" class="soft small">
        The readings range over {{ proof.range.toFixed(1) }} only, too little to tell a slope from noise.
      </p>
      <p class="soft small">
        Offset: median of the differences; spread: median absolute deviation × 1.4826 (Rousseeuw and Croux 1993); slope:
        median of pairwise slopes (Sen 1968).
      </p>
    </template>
    <div class="row options">
      <label class="row small"
        >rounded to
        <Select
          :model-value="present?.precision ?? 0"
          size="small"
          :options="precisions"
          option-label="title"
          option-value="value"
          aria-label="Rounded to"
          @update:model-value="option({ precision: $event || undefined })"
      /></label>
      <label class="row small"
        >smoothed over
        <Select
          :model-value="present?.smoothSeconds ?? 0"
          size="small"
          :options="smoothings"
          option-label="title"
          option-value="value"
          aria-label="Smoothed over"
          @update:model-value="option({ smoothSeconds: $event || undefined })"
      /></label>
    </div>
    <p v-if="present" class="row small">
      <span
        >Now: <template v-if="present.slope">times {{ present.slope.toFixed(3) }}, </template>{{ say(present.offset)
        }}<template v-if="present.from">, since {{ home.times.since(present.from, home.now) }}</template
        >.</span
      >
      <Button size="small" severity="secondary" label="Take it back" @click="takeBack" />
    </p>
  </section>
</template>

<style scoped>
.prove {
  border-left: 3px solid var(--verdigris);
  background: var(--sheet);
  padding: var(--space-10) var(--space-14) var(--space-14);
  margin-top: var(--space-8);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
  margin-top: var(--space-8);
}
.options {
  gap: var(--space-20);
}
.small {
  font-size: var(--type-small);
}
.found {
  margin-top: var(--space-10);
}
.wrong {
  color: var(--ember);
  margin-top: var(--space-8);
}
</style>
