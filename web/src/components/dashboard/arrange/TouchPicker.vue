<script setup lang="ts">
import { computed } from 'vue'
import type { Control, Property, Touch, Value } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ValueToken from '@/components/tokens/ValueToken.vue'
import { grouped, join, propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'

/** What a touch does, where it is not what the instrument does by itself. */
const model = defineModel<Touch | undefined>({ required: true })
const props = defineProps<{ label: string; control: Control; usual: string }>()
const home = useHome()

const deeds = computed(() => [
  { value: '', title: props.usual },
  { value: 'nothing', title: 'does nothing' },
  { value: 'toggle', title: 'switches' },
  { value: 'set', title: 'sets' },
  { value: 'scene', title: 'applies the scene' },
  { value: 'sequence', title: 'starts or stops the sequence' },
  { value: 'rule', title: 'runs the rule' },
  { value: 'action', title: 'asks a device' },
  { value: 'dashboard', title: 'goes to the dashboard' },
  ...(props.control.property ? [{ value: 'explain', title: 'says why it is so' }] : []),
])
const named = (all: { id: string; title: string }[]) => all.map((s) => ({ value: s.id, title: s.title }))
const devices = (fits: (p: Property) => boolean) => propertyChoices(home.everything, home.rooms, fits)
const chosen = (name?: string) => (model.value?.device && name ? join(model.value.device, name) : undefined)
/** What a deed is done to: what can be chosen, and what is. */
const object = computed(() => {
  const touch = model.value
  switch (touch?.do) {
    case 'set':
      return { choices: devices((p) => p.writable), at: chosen(touch.property) }
    case 'toggle':
      return {
        choices: devices((p) => p.writable && (p.type === 'boolean' || p.role === 'brightness')),
        at: chosen(touch.property),
      }
    case 'action':
      return { choices: grouped(home.devices, home.rooms, (d) => d.description.actions), at: chosen(touch.action) }
    case 'scene':
      return { choices: named(home.scenes), at: touch.scene }
    case 'sequence':
      return { choices: named(home.sequences), at: touch.sequence }
    case 'rule':
      return { choices: named(home.rules), at: touch.rule }
    case 'dashboard':
      return { choices: named(home.dashboards), at: touch.dashboard }
    default:
      return undefined
  }
})
const property = computed(() => home.property(model.value?.device, model.value?.property))

function become(deed: string) {
  if (!deed) model.value = undefined
  else if (deed === 'toggle' && props.control.device && props.control.property)
    model.value = { do: 'toggle', device: props.control.device, property: props.control.property }
  else model.value = { do: deed as Touch['do'] }
}
const aim = (part: Partial<Touch>) => (model.value = { ...model.value!, ...part })
function take(choice: string) {
  const deed = model.value!.do
  const [device, name] = split(choice)
  if (deed === 'action') return aim({ device, action: name })
  if (deed !== 'set' && deed !== 'toggle') return aim({ [deed]: choice })
  const p = home.property(device, name)
  const first: Value = p?.type === 'boolean' ? true : p?.type === 'number' ? p.maximum : (p?.options?.[0] ?? '')
  aim({ device, property: name, value: deed === 'set' ? first : undefined })
}
</script>

<template>
  <p class="touch">
    <span class="soft">{{ label }}</span>
    <TokenPicker
      :model-value="model?.do ?? ''"
      :choices="deeds"
      :label="`${label}, what it does`"
      @update:model-value="become"
    />
    <TokenPicker
      v-if="object"
      :model-value="object.at"
      :choices="object.choices"
      :label="`${label}, to what`"
      :invalid="!object.at"
      @update:model-value="take"
    />
    <template v-if="model?.do === 'set' && property">
      to
      <ValueToken
        :model-value="model.value"
        :property="property"
        :label="`${label}, value`"
        @update:model-value="aim({ value: $event })"
      />
    </template>
  </p>
</template>

<style scoped>
.touch {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-6);
  align-items: baseline;
  margin: 0;
}
</style>
