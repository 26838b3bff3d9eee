<script setup lang="ts">
import Popover from 'primevue/popover'
import { computed, nextTick, ref } from 'vue'

/** A number of a sentence that can be changed in place, with its unit. */
const props = defineProps<{
  modelValue: number | undefined
  label: string
  unit?: string
  units?: { title: string; factor: number }[]
  minimum?: number
  maximum?: number
  text?: string
  invalid?: boolean
  /** What may be chosen instead of a number. */
  also?: string
  /** Whether a formula may give it instead. */
  workable?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [number]; also: []; work: [] }>()

const popover = ref<InstanceType<typeof Popover>>()
const input = ref<HTMLInputElement>()
const typed = ref('')
const factor = ref(1)
const wrong = ref('')

const shown = computed(() => {
  if (props.text !== undefined) return props.text
  if (props.modelValue === undefined) return undefined
  return `${Math.round(props.modelValue * 100) / 100}${props.unit ? ` ${props.unit}` : ''}`
})

function open(event: Event) {
  wrong.value = ''
  const value = props.modelValue
  const best = [...(props.units ?? [])]
    .sort((a, b) => b.factor - a.factor)
    .find((u) => value && value >= u.factor && value % u.factor === 0)
  factor.value = best?.factor ?? props.units?.[0]?.factor ?? 1
  typed.value = value === undefined ? '' : String(value / factor.value)
  popover.value?.toggle(event)
}

async function focus() {
  await nextTick()
  input.value?.focus()
  input.value?.select()
}

function choose() {
  popover.value?.hide()
  emit('also')
}

function work() {
  popover.value?.hide()
  emit('work')
}

function take() {
  const value = Number(typed.value.replace(',', '.')) * factor.value
  if (typed.value.trim() === '' || !Number.isFinite(value)) {
    wrong.value = 'Type a number.'
  } else if (props.minimum !== undefined && value < props.minimum) {
    wrong.value = `At least ${props.minimum}${props.unit ? ` ${props.unit}` : ''}.`
  } else if (props.maximum !== undefined && value > props.maximum) {
    wrong.value = `At most ${props.maximum / factor.value}${props.unit ? ` ${props.unit}` : ''}.`
  } else {
    emit('update:modelValue', value)
    popover.value?.hide()
  }
}
</script>

<template>
  <button
    type="button"
    class="plain token"
    :class="{ mono: /\d/.test(shown ?? ''), unset: shown === undefined, invalid }"
    :aria-label="`${label}: ${shown ?? 'choose'}`"
    @click="open"
  >
    {{ shown ?? 'choose' }}
  </button>
  <Popover ref="popover" @show="focus">
    <form class="form" @submit.prevent="take">
      <input ref="input" v-model="typed" class="mono" inputmode="decimal" :aria-label="label" :aria-invalid="!!wrong" />
      <select v-if="units" v-model="factor" aria-label="Unit">
        <option v-for="u in units" :key="u.title" :value="u.factor">{{ u.title }}</option>
      </select>
      <span v-else-if="unit" class="soft">{{ unit }}</span>
      <button type="submit" class="plain link">Set</button>
      <button v-if="also" type="button" class="plain link work" @click="choose">{{ also }}</button>
      <button v-if="workable" type="button" class="plain link work" @click="work">By a formula …</button>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    </form>
  </Popover>
</template>

<style scoped>
.form {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-10);
  align-items: baseline;
  max-width: 280px;
}
input,
select {
  background: var(--paper);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  padding: var(--space-4) var(--space-8);
}
input {
  width: 90px;
}
.work {
  width: 100%;
  text-align: left;
  font-size: var(--type-small);
}
.wrong {
  width: 100%;
  color: var(--ember);
  font-size: var(--type-small);
}
</style>
