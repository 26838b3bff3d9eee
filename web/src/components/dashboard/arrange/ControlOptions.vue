<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import type { Control } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ActionInputs from '@/components/rule/steps/ActionInputs.vue'
import type { Alignment } from '@/lib/arranging'
import { join, split } from '@/lib/sentences'
import { useControlKinds } from '@/stores/controlKinds'
import { useHome } from '@/stores/home'
import { aimAt, aimOf } from './aims'
import ColorChoice from './ColorChoice.vue'
import IconPicker from './IconPicker.vue'
import OptionField from './OptionField.vue'
import SeenByPicker from './SeenByPicker.vue'
import TouchPicker from './TouchPicker.vue'
import UploadPicker from './UploadPicker.vue'

/** The options of what was chosen: of one control all, of several those that they have in common. */
const props = defineProps<{ controls: Control[]; titleOf: (control: Control) => string }>()
const emit = defineEmits<{
  change: [part: Partial<Control>]
  align: [how: Alignment]
  remove: []
  copy: []
  elsewhere: []
}>()
const home = useHome()
const kinds = useControlKinds()

const one = computed(() => (props.controls.length === 1 ? props.controls[0] : undefined))
const kind = computed(() => one.value && kinds.byKind.get(one.value.kind))
const choices = computed(() => (kind.value ? kinds.choices(kind.value) : []))
const action = computed(() => {
  const c = one.value
  return c?.action ? home.device(c.device)?.description.actions.find((a) => a.name === c.action) : undefined
})
/** What they all have, undefined where they differ. */
function common<K extends keyof Control>(name: K): Control[K] | undefined {
  const first = props.controls[0]?.[name]
  return props.controls.every((c) => JSON.stringify(c[name]) === JSON.stringify(first)) ? first : undefined
}
function option(name: string, value: unknown) {
  const options = { ...one.value?.options, [name]: value }
  if (value === undefined) delete options[name]
  emit('change', { options: Object.keys(options).length ? options : undefined })
}
function addValue(choice: string) {
  const [device, name] = split(choice)
  const values = one.value?.values ?? []
  if (!values.some((v) => v.device === device && v.name === name))
    emit('change', { values: [...values, { device, name }] })
}
const dropValue = (at: number) => emit('change', { values: one.value!.values!.filter((_, i) => i !== at) })
const valueTitle = (v: { device: string; name: string }) =>
  choices.value.find((c) => c.value === join(v.device, v.name))?.title ?? 'gone'

const FACES = [
  { value: '', title: 'as there is room' },
  { value: 'small', title: 'small' },
  { value: 'middle', title: 'middle' },
  { value: 'large', title: 'large' },
]
const faces = computed(() => FACES.filter((f) => !f.value || kind.value?.faces?.includes(f.value)))
const ALIGNMENTS: { how: Alignment; title: string }[] = [
  { how: 'left', title: 'Left' },
  { how: 'right', title: 'Right' },
  { how: 'top', title: 'Top' },
  { how: 'bottom', title: 'Bottom' },
  { how: 'width', title: 'Same width' },
  { how: 'height', title: 'Same height' },
]
const MOST_CLEAR = 100
const TENTH = 10
</script>

<template>
  <section class="options" aria-labelledby="control-options">
    <h2 id="control-options">{{ one ? titleOf(one) : `${controls.length} controls` }}</h2>
    <p v-if="kind" class="soft help">{{ kind.help }}</p>

    <template v-if="one && kind">
      <p v-if="choices.length && kind.subject !== 'values'" class="row">
        <span class="soft">Of</span>
        <TokenPicker
          :model-value="aimOf(kind, one)"
          :choices="choices"
          label="What it is about"
          lately
          @update:model-value="emit('change', aimAt(kind, $event))"
        />
      </p>
      <ul v-if="kind.subject === 'values'" class="values">
        <li v-for="(v, i) in one.values" :key="v.device + v.name">
          {{ valueTitle(v) }}
          <button
            v-if="(one.values?.length ?? 0) > 1"
            type="button"
            class="plain soft"
            :aria-label="`Remove ${valueTitle(v)}`"
            @click="dropValue(i)"
          >
            ×
          </button>
        </li>
        <li>
          <TokenPicker
            :model-value="undefined"
            :choices="choices"
            label="Another value"
            empty="another value"
            verb
            @update:model-value="addValue"
          />
        </li>
      </ul>
      <UploadPicker
        v-if="kind.subject === 'upload'"
        label="Picture"
        :model-value="one.upload"
        @update:model-value="$event && emit('change', { upload: $event })"
      />
      <p v-if="action?.inputs?.length" class="row">
        <span class="soft">{{ action.title }}</span>
        <ActionInputs
          :model-value="Object.fromEntries(Object.entries(one.inputs ?? {}).map(([n, value]) => [n, { value }]))"
          :action="action"
          @update:model-value="
            emit('change', {
              inputs: Object.fromEntries(
                Object.entries($event).flatMap(([n, g]) => (g?.value == null ? [] : [[n, g.value]])),
              ),
            })
          "
        />
      </p>
      <label class="field">
        <span class="soft">Title</span>
        <input
          :value="one.label"
          :placeholder="titleOf({ ...one, label: undefined })"
          aria-label="Title"
          maxlength="80"
          @input="emit('change', { label: ($event.target as HTMLInputElement).value || undefined })"
        />
      </label>
      <p class="row">
        <span class="soft">Icon</span>
        <IconPicker :model-value="one.icon" label="Icon" @update:model-value="emit('change', { icon: $event })" />
      </p>
      <OptionField
        v-for="o in kind.options ?? []"
        :key="one.id + o.name"
        :option="o"
        :model-value="one.options?.[o.name]"
        @update:model-value="option(o.name, $event)"
      />
    </template>

    <p class="row">
      <span class="soft">Color</span>
      <ColorChoice
        label="Color"
        :model-value="common('color')"
        @update:model-value="emit('change', { color: $event as Control['color'] })"
      />
    </p>
    <label class="row">
      <span class="soft">See-through</span>
      <input
        type="range"
        min="0"
        :max="MOST_CLEAR"
        :step="TENTH"
        :value="common('clear') ?? 0"
        aria-label="See-through, in percent"
        @change="emit('change', { clear: Number(($event.target as HTMLInputElement).value) || undefined })"
      />
      <span class="mono">{{ common('clear') ?? 0 }} %</span>
    </label>
    <p v-if="one && faces.length > 1" class="row">
      <span class="soft">Face</span>
      <TokenPicker
        :model-value="one.face ?? ''"
        :choices="faces"
        label="Face"
        @update:model-value="emit('change', { face: ($event || undefined) as Control['face'] })"
      />
    </p>
    <template v-if="one">
      <TouchPicker
        label="A tap"
        usual="does what it does"
        :control="one"
        :model-value="one.tap"
        @update:model-value="emit('change', { tap: $event })"
      />
      <TouchPicker
        label="A double tap"
        usual="does nothing"
        :control="one"
        :model-value="one.double"
        @update:model-value="emit('change', { double: $event })"
      />
      <TouchPicker
        label="Holding it"
        :usual="one.property ? 'says why it is so' : 'does nothing'"
        :control="one"
        :model-value="one.hold"
        @update:model-value="emit('change', { hold: $event })"
      />
    </template>
    <label class="row check">
      <input
        type="checkbox"
        :checked="common('ask') ?? false"
        @change="emit('change', { ask: ($event.target as HTMLInputElement).checked || undefined })"
      />
      Ask before it does anything
    </label>
    <p class="row">
      <span class="soft">Seen by</span>
      <SeenByPicker
        label="Who sees it"
        guests
        :model-value="common('seenBy')"
        @update:model-value="emit('change', { seenBy: $event })"
      />
    </p>

    <template v-if="!one">
      <h3>Line up</h3>
      <p class="row">
        <button v-for="a in ALIGNMENTS" :key="a.how" type="button" class="plain link" @click="emit('align', a.how)">
          {{ a.title }}
        </button>
      </p>
    </template>
    <p class="row keys">
      <Button size="small" severity="secondary" label="Duplicate" @click="emit('copy')" />
      <Button size="small" severity="secondary" label="Copy for another room …" @click="emit('elsewhere')" />
      <Button size="small" severity="secondary" label="Remove" @click="emit('remove')" />
    </p>
  </section>
</template>

<style scoped>
.options {
  display: grid;
  gap: var(--space-8);
  align-content: start;
}
h2,
h3 {
  margin: 0;
}
.help {
  font-size: var(--type-small);
  margin: 0;
}
.check.row {
  flex-wrap: nowrap;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-10);
  align-items: center;
  min-height: 34px;
  margin: 0;
}
.field {
  display: grid;
  gap: var(--space-2);
}
.field input {
  width: 100%;
  padding: var(--space-6) var(--space-8);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
}
.values {
  display: grid;
  gap: var(--space-4);
}
.keys {
  border-top: 1px solid var(--rule);
  padding-top: var(--space-10);
}
</style>
