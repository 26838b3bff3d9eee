<script setup lang="ts">
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { Property, Value } from '@/api/types'
import { useNotices } from '@/stores/notices'
import ExpressionToken from './ExpressionToken.vue'
import NumberToken from './NumberToken.vue'
import TextToken from './TextToken.vue'
import TokenPicker from './TokenPicker.vue'

/** A value of a property, typed as the property is. */
const props = defineProps<{
  modelValue: Value | undefined
  property: Property | undefined
  label: string
  invalid?: boolean
  swatch?: string
  /** Whether a light may be switched on without saying how bright. */
  switches?: boolean
  /** Whether a formula may give a number instead, and which does. */
  workable?: boolean
  formula?: string | undefined
}>()
const emit = defineEmits<{ 'update:modelValue': [Value]; 'update:formula': [string | undefined] }>()
const notices = useNotices()

const words = computed(() => props.property?.words ?? ['no', 'yes'])
const number = computed(() => (typeof props.modelValue === 'number' ? props.modelValue : undefined))
/** What is said of a light instead of a number. */
const lightText = computed(() => {
  if (props.property?.role !== 'brightness') return undefined
  if (props.modelValue === true) return 'on'
  return number.value === 0 || props.modelValue === false ? 'off' : undefined
})
const limited = computed(() => props.property && props.property.minimum !== props.property.maximum)

async function pick(event: Event) {
  const swatch = (event.target as HTMLInputElement).value
  await notices.attempt(async () =>
    emit('update:modelValue', await ask(api.GET('/api/color', { params: { query: { swatch } } }))),
  )
}
</script>

<template>
  <ExpressionToken
    v-if="formula !== undefined"
    :model-value="formula"
    :label="label"
    empty="write a formula"
    help="Empty it for a fixed value again."
    @update:model-value="emit('update:formula', $event || undefined)"
  />
  <TokenPicker
    v-else-if="property?.type === 'boolean'"
    :model-value="modelValue === true ? 'true' : modelValue === false ? 'false' : undefined"
    :choices="[
      { value: 'true', title: words[1] ?? 'yes' },
      { value: 'false', title: words[0] ?? 'no' },
    ]"
    :label="label"
    :invalid="invalid"
    @update:model-value="emit('update:modelValue', $event === 'true')"
  />
  <TokenPicker
    v-else-if="property?.type === 'option'"
    :model-value="typeof modelValue === 'string' ? modelValue : undefined"
    :choices="(property.options ?? []).map((o) => ({ value: o, title: property?.titles?.[o] ?? o }))"
    :label="label"
    :invalid="invalid"
    @update:model-value="emit('update:modelValue', $event)"
  />
  <input
    v-else-if="property?.type === 'color'"
    type="color"
    class="color"
    :value="swatch ?? '#ffd9a8'"
    :aria-label="label"
    @change="pick"
  />
  <TextToken
    v-else-if="property?.type === 'text'"
    :model-value="typeof modelValue === 'string' ? modelValue : undefined"
    :label="label"
    empty="write something"
    :maximum="500"
    @update:model-value="emit('update:modelValue', $event)"
  />
  <NumberToken
    v-else-if="property"
    :model-value="number"
    :text="lightText"
    :also="switches && property.role === 'brightness' ? 'On, as it comes on' : undefined"
    :label="label"
    :unit="property.unit"
    :minimum="limited ? property.minimum : undefined"
    :maximum="limited ? property.maximum : undefined"
    :invalid="invalid"
    :workable="workable"
    @update:model-value="emit('update:modelValue', $event)"
    @also="emit('update:modelValue', true)"
    @work="emit('update:formula', '')"
  />
</template>

<style scoped>
.color {
  width: 44px;
  height: 26px;
  padding: 1px;
  border: 1px solid var(--edge);
  background: var(--sheet);
  vertical-align: middle;
}
</style>
