<script setup lang="ts">
import Button from 'primevue/button'
import InputNumber from 'primevue/inputnumber'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Property, PropertyState, Value } from '@/api/types'
import LockKey from '@/instruments/LockKey.vue'
import PropertyScale from '@/instruments/PropertyScale.vue'
import { switchedOn } from '@/instruments/useLamp'
import { act } from '@/lib/act'
import { certaintyOf } from '@/lib/certainty'
import { wantedOf } from '@/lib/sliding'
import CommitInput from '@/components/inputs/CommitInput.vue'
import { useNotices } from '@/stores/notices'

/** Sets one writable property, with the control that fits its type. */
const props = withDefaults(
  defineProps<{
    device: string
    property: Property
    state: PropertyState
    exact?: boolean
    /** Whether its device can be heard. */
    silent?: boolean
    /** The light's own color, of a lamp. */
    color?: string
    /** How warm it is, of what is set to a warmth. */
    measured?: number
  }>(),
  { exact: true, silent: false, color: undefined, measured: undefined },
)
const notices = useNotices()

const shown = computed<Value>(() => wantedOf(props.state) ?? null)
const asNumber = computed(() => (typeof shown.value === 'number' ? shown.value : props.property.minimum))
/** Values are shown as finely as a difference counts. */
const places = computed(() => (props.property.resolution >= 1 ? 1 : 0.1))
/** Where the scale stands, or is being slid to. */
const local = ref(asNumber.value)
watch(asNumber, (now) => (local.value = now))

const write = (value: Value) => notices.attempt(() => act.write(props.device, props.property.name, value))
const certainty = computed(() => certaintyOf(props.state, props.silent))

/** What stands in the field while somebody types there: what happens meanwhile does not write over it. */
const typing = ref<number>()
function type(value: number | null | undefined) {
  if (value === null || value === undefined || value === (typing.value ?? local.value)) return
  local.value = value
  if (typing.value !== undefined) typing.value = value
  void write(value)
}

async function pick(event: Event) {
  const swatch = (event.target as HTMLInputElement).value
  await notices.attempt(async () => write(await ask(api.GET('/api/color', { params: { query: { swatch } } }))))
}

/** A device is switched; what the hub keeps itself is set. */
const switches = computed(() => (props.property.own ? 'Set to' : 'Switch'))
const isLight = computed(() => props.property.role === 'brightness')
const label = computed(() => props.property.title)
</script>

<template>
  <div class="control">
    <LockKey
      v-if="property.role === 'lock'"
      :label="label"
      :locked="shown === true"
      :certainty="certainty"
      @lock="write(true)"
      @unlock="write(false)"
    />
    <template v-else-if="property.type === 'boolean'">
      <Button
        :severity="shown === true ? 'primary' : 'secondary'"
        :label="
          shown === true ? `${switches} ${property.words?.[0] ?? 'off'}` : `${switches} ${property.words?.[1] ?? 'on'}`
        "
        @click="write(shown !== true)"
      />
    </template>
    <template v-else-if="property.type === 'number'">
      <PropertyScale
        class="slider"
        :device="device"
        :property="property"
        :state="state"
        :silent="silent"
        :color="color"
        :measured="measured"
        @slid="local = $event"
      />
      <InputNumber
        v-if="exact"
        class="exact"
        :model-value="typing ?? local"
        :min="property.minimum"
        :max="property.maximum"
        :max-fraction-digits="places === 1 ? 0 : 1"
        :suffix="property.unit ? ` ${property.unit}` : undefined"
        :use-grouping="false"
        :aria-label="`${label}, exactly`"
        @update:model-value="type"
        @focus="typing = local"
        @blur="typing = undefined"
      />
      <Button
        v-if="isLight"
        severity="secondary"
        :label="asNumber > 0 ? 'Off' : 'On'"
        @click="write(asNumber > 0 ? 0 : switchedOn(property, state))"
      />
    </template>
    <Select
      v-else-if="property.type === 'option'"
      :model-value="shown"
      :options="(property.options ?? []).map((o) => ({ value: o, title: property.titles?.[o] ?? o }))"
      option-value="value"
      option-label="title"
      :aria-label="label"
      @update:model-value="write"
    />
    <CommitInput
      v-else-if="property.type === 'text'"
      :value="typeof shown === 'string' ? shown : ''"
      :aria-label="label"
      maxlength="500"
      @commit="write"
    />
    <label v-else-if="property.type === 'color'" class="color">
      <input type="color" :value="state.swatch || '#ffffff'" :aria-label="label" @change="pick" />
      <span class="soft">choose a color</span>
    </label>
  </div>
</template>

<style scoped>
.control {
  display: flex;
  gap: var(--space-16);
  align-items: center;
  min-height: var(--touch);
}
.slider {
  flex: 1;
  min-width: 0;
  margin-left: var(--space-6);
}
.exact :deep(input) {
  width: 96px;
  text-align: right;
  font-family: var(--mono);
}
.color {
  display: flex;
  gap: var(--space-10);
  align-items: center;
  font-size: var(--type-small);
}
.color input {
  width: 56px;
  height: 34px;
  padding: var(--space-2);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
}
</style>
