<script setup lang="ts">
import { computed } from 'vue'
import type { Property, Step, Value } from '@/api/types'
import { sharedRoles } from '@/lib/groups'
import { keysOf } from '@/lib/keys'
import { join, propertyChoices, split } from '@/lib/sentences'
import { GROUP, setChoices, setOf } from '@/lib/steps'
import { useHome } from '@/stores/home'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ValueToken from '@/components/tokens/ValueToken.vue'

/** What a step goes through, value by value, for as long as its rule is not stopped. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

const settable = (p: Property) => !!p.writable && p.type !== 'text'
const subjects = computed(() => [
  ...setChoices(home.sets, home.everything, settable, undefined),
  ...propertyChoices(home.everything, home.rooms, settable),
])
const subject = computed(() => {
  const { device, group, property } = step.value
  if (!property) return undefined
  return group ? join(`${GROUP}${group}`, property) : device ? join(device, property) : undefined
})
const property = computed(() =>
  step.value.group
    ? sharedRoles(home.set(step.value.group)!, home.everything).find((s) => s.role === step.value.property)?.property
    : home.property(step.value.device, step.value.property),
)
function choose(value: string) {
  const [about, name] = split(value)
  const group = setOf(about)
  change({
    ...(group ? { group, device: undefined } : { device: about, group: undefined }),
    property: name,
    values: [],
  })
}
const values = computed(() => step.value.values ?? [])
const first = (): Value => {
  const p = property.value
  if (values.value.length) return values.value.at(-1)!
  if (p?.type === 'number') return p.maximum ?? 0
  if (p?.type === 'boolean') return true
  return p?.options?.[0] ?? { x: 0.4, y: 0.4 }
}
const set = (i: number, value: Value) => change({ values: values.value.map((v, k) => (k === i ? value : v)) })
/** One further each time takes no time and goes round. */
const USUAL_GAP = 1
const goes = (once: boolean) =>
  change(
    once
      ? { once: true, gapSeconds: undefined, toAndFro: undefined, dial: undefined, atMostSeconds: undefined }
      : { once: undefined, gapSeconds: USUAL_GAP },
  )

/** What is turned anywhere: it can set the pace. */
const NONE = ''
const dials = computed(() =>
  home.devices.flatMap((d) =>
    keysOf(d)
      .filter((k) => k.number)
      .map((k) => ({ value: join(d.id, k.name), title: `${d.title}, ${k.title.toLowerCase()}` })),
  ),
)
function dialOf(value: string) {
  if (value === NONE) return undefined
  const [device, name] = split(value)
  return { device, name }
}
const swatchOf = (v: Value) => (typeof v === 'object' && v && 'swatch' in v ? String(v.swatch) : undefined)
</script>

<template>
  <TokenPicker
    :model-value="subject"
    :choices="subjects"
    label="What it steps"
    empty="choose what"
    lately
    @update:model-value="choose"
  />
  through
  <template v-for="(v, i) in values" :key="i">
    <ValueToken
      :model-value="v"
      :property="property"
      :label="`Value ${i + 1}`"
      :swatch="swatchOf(v)"
      @update:model-value="set(i, $event)"
    />
    <button
      type="button"
      class="plain soft"
      :aria-label="`Remove value ${i + 1}`"
      @click="change({ values: values.filter((_, k) => k !== i) })"
    >
      ×
    </button>
    {{ ' ' }}
  </template>
  <button v-if="property" type="button" class="plain link" @click="change({ values: [...values, first()] })">
    Add a value
  </button>
  <span class="soft">, </span>
  <TokenPicker
    :model-value="step.once ? 'once' : 'on'"
    :choices="[
      { value: 'on', title: 'one after the other' },
      { value: 'once', title: 'one further each time' },
    ]"
    label="How far it goes"
    @update:model-value="goes($event === 'once')"
  />
  <template v-if="!step.once">
    <span class="soft">, every </span>
    <NumberToken
      :model-value="step.gapSeconds"
      label="Time between two values"
      unit="s"
      :minimum="0.05"
      :maximum="3600"
      @update:model-value="change({ gapSeconds: $event })"
    />
    <template v-if="dials.length || step.dial">
      <span class="soft">, faster or slower by </span>
      <TokenPicker
        :model-value="step.dial ? join(step.dial.device, step.dial.name) : NONE"
        :choices="[{ value: NONE, title: 'no dial' }, ...dials]"
        label="Dial that sets its pace"
        @update:model-value="change({ dial: dialOf($event) })"
      />
    </template>
    <span class="soft">, </span>
    <TokenPicker
      :model-value="step.toAndFro ? 'fro' : 'round'"
      :choices="[
        { value: 'round', title: 'round and round' },
        { value: 'fro', title: 'to and fro' },
      ]"
      label="In which order"
      @update:model-value="change({ toAndFro: $event === 'fro' || undefined })"
    />
    <span class="soft">, for at most </span>
    <NumberToken
      :model-value="step.atMostSeconds || 60"
      label="Longest"
      unit="s"
      :minimum="1"
      :maximum="3600"
      @update:model-value="change({ atMostSeconds: $event })"
    />
  </template>
  <span class="soft">; </span>
  <TokenPicker
    :model-value="step.forNow ? 'now' : 'kept'"
    :choices="[
      { value: 'kept', title: 'kept as what it comes on with' },
      { value: 'now', title: 'only until it was off' },
    ]"
    label="Whether it is kept"
    @update:model-value="change({ forNow: $event === 'now' || undefined })"
  />
</template>
