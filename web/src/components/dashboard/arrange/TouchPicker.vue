<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Control, Property, Touch, Value } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ValueToken from '@/components/tokens/ValueToken.vue'
import { grouped, join, propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'

/** What a touch does, where it is not what the instrument does by itself. */
const chosenTouch = defineModel<Touch | undefined>({ required: true })
const props = defineProps<{ label: string; control: Control; usual: string }>()
const home = useHome()
/** What is being chosen: it counts once it is said what it is done to. */
const model = ref<Touch>()
watch(chosenTouch, (now) => (model.value = now), { immediate: true })

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

function put(touch: Touch | undefined) {
  model.value = touch
  if (!object.value || object.value.at) chosenTouch.value = touch
}
function become(deed: string) {
  const { device, property: name } = props.control
  if (!deed) put(undefined)
  else if (deed === 'toggle' && device && name) put({ do: 'toggle', device, property: name })
  else put({ do: deed as Touch['do'] })
}
const aim = (part: Partial<Touch>) => put({ ...model.value!, ...part })
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
