<script setup lang="ts">
import Button from 'primevue/button'
import InputNumber from 'primevue/inputnumber'
import { computed, ref, watch } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { Property, PropertyState, Travel } from '@/api/types'
import { useNotices } from '@/stores/notices'

/** Measures how long a shutter takes from end to end: by its motor's draw, or by whoever watches with a key. */
const props = defineProps<{ device: string; title: string; property: Property; state: PropertyState }>()
const notices = useNotices()

const path = computed(() => ({ id: props.device, property: props.property.name }))
const learning = computed(() => props.state.shutter?.learning)
const known = computed(() => props.state.shutter?.travel)
const runs = computed(() => learning.value && !['finished', 'broken'].includes(learning.value.phase))
const phases: Record<string, string> = {
  toShut: 'First it runs down to its end, to begin from there.',
  opening: 'Now it runs up, and the time is taken.',
  shutting: 'Now it runs down, and the time is taken.',
}
const up = ref<number | null>(null)
const down = ref<number | null>(null)
const wrong = ref('')
watch(
  [known, learning],
  () => {
    const from = learning.value?.phase === 'finished' ? learning.value.travel : known.value
    up.value = from?.upSeconds ?? null
    down.value = from?.downSeconds ?? null
  },
  { immediate: true },
)

const say = (verb: 'learn' | 'here' | 'forget') =>
  notices.attempt(() =>
    ask(
      api.POST('/api/devices/{id}/properties/{property}/travel/measuring', {
        params: { path: path.value },
        body: { verb },
      }),
    ),
  )
const put = (body: Travel | undefined) =>
  body
    ? ask(api.PUT('/api/devices/{id}/properties/{property}/travel', { params: { path: path.value }, body }))
    : ask(api.DELETE('/api/devices/{id}/properties/{property}/travel', { params: { path: path.value } }))

async function keep() {
  const before = known.value
  wrong.value = ''
  try {
    await put({ upSeconds: up.value ?? 0, downSeconds: down.value ?? 0 })
    if (learning.value) await say('forget')
    notices.done(`${props.title} knows its travel times.`, () => put(before))
  } catch (error) {
    wrong.value = error instanceof Problem ? (error.places[0]?.message ?? error.message) : String(error)
  }
}
const changed = computed(
  () => up.value !== (known.value?.upSeconds ?? null) || down.value !== (known.value?.downSeconds ?? null),
)
</script>

<template>
  <section class="travel" aria-label="Travel times">
    <h3>Travel times</h3>
    <template v-if="runs">
      <p role="status">{{ phases[learning!.phase] }}</p>
      <p class="soft small">
        Where its end is the hub sees by its motor, which draws no power there. If it does not, say so yourself the
        moment it stands.
      </p>
      <p class="row">
        <Button label="It stands at its end now" @click="say('here')" />
        <Button severity="secondary" label="Stop measuring" @click="say('forget')" />
      </p>
    </template>
    <template v-else>
      <p v-if="learning?.phase === 'broken'" class="wrong" role="alert">Not measured: {{ learning.problem }}</p>
      <p v-else-if="learning?.phase === 'finished'" role="status">Measured. Keep these times, or measure again.</p>
      <p v-else-if="!known" class="soft small">
        Not known yet. It runs down, up and down by itself; nothing may stand in its way.
      </p>
      <p class="row">
        <label>
          Up
          <InputNumber
            v-model="up"
            :min-fraction-digits="1"
            :max-fraction-digits="2"
            suffix=" s"
            aria-label="Time from shut to open"
          />
        </label>
        <label>
          Down
          <InputNumber
            v-model="down"
            :min-fraction-digits="1"
            :max-fraction-digits="2"
            suffix=" s"
            aria-label="Time from open to shut"
          />
        </label>
        <Button v-if="changed" label="Keep these times" @click="keep" />
        <Button severity="secondary" :label="known ? 'Measure again' : 'Measure'" @click="say('learn')" />
      </p>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    </template>
  </section>
</template>

<style scoped>
.travel {
  padding: var(--space-10) 0;
}
h3 {
  font-size: var(--type-small);
  margin: 0 0 var(--space-4);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-12);
  align-items: center;
  margin-top: var(--space-6);
}
.row label {
  display: flex;
  gap: var(--space-8);
  align-items: center;
  font-size: var(--type-small);
}
.row :deep(input) {
  width: 92px;
  text-align: right;
  font-family: var(--mono);
}
.small {
  font-size: var(--type-small);
}
.wrong {
  color: var(--ember);
}
</style>
