<script setup lang="ts">
import { computed } from 'vue'
import type { Control, Touch, Value } from '@/api/types'
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
const writable = computed(() => propertyChoices(home.everything, home.rooms, (p) => p.writable))
const switched = computed(() =>
  propertyChoices(home.everything, home.rooms, (p) => p.writable && (p.type === 'boolean' || p.role === 'brightness')),
)
const property = computed(() => home.property(model.value?.device, model.value?.property))

function become(deed: string) {
  if (!deed) model.value = undefined
  else if (deed === 'toggle' && props.control.device && props.control.property)
    model.value = { do: 'toggle', device: props.control.device, property: props.control.property }
  else model.value = { do: deed as Touch['do'] }
}
const aim = (part: Partial<Touch>) => (model.value = { ...model.value!, ...part })
function aimProperty(choice: string) {
  const [device, name] = split(choice)
  const p = home.property(device, name)
  const first: Value = p?.type === 'boolean' ? true : p?.type === 'number' ? p.maximum : (p?.options?.[0] ?? '')
  aim({ device, property: name, value: model.value?.do === 'set' ? first : undefined })
}
function aimAction(choice: string) {
  const [device, action] = split(choice)
  aim({ device, action })
}
const chosen = (name?: string) => (model.value?.device && name ? join(model.value.device, name) : undefined)
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
      v-if="model?.do === 'set' || model?.do === 'toggle'"
      :model-value="chosen(model.property)"
      :choices="model.do === 'set' ? writable : switched"
      :label="`${label}, what is set`"
      :invalid="!model.property"
      @update:model-value="aimProperty"
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
    <TokenPicker
      v-if="model?.do === 'action'"
      :model-value="chosen(model.action)"
      :choices="grouped(home.devices, home.rooms, (d) => d.description.actions)"
      :label="`${label}, what is asked`"
      :invalid="!model.action"
      @update:model-value="aimAction"
    />
    <TokenPicker
      v-if="model?.do === 'scene'"
      :model-value="model.scene"
      :choices="named(home.scenes)"
      :label="`${label}, scene`"
      :invalid="!model.scene"
      @update:model-value="aim({ scene: $event })"
    />
    <TokenPicker
      v-if="model?.do === 'sequence'"
      :model-value="model.sequence"
      :choices="named(home.sequences)"
      :label="`${label}, sequence`"
      :invalid="!model.sequence"
      @update:model-value="aim({ sequence: $event })"
    />
    <TokenPicker
      v-if="model?.do === 'rule'"
      :model-value="model.rule"
      :choices="named(home.rules)"
      :label="`${label}, rule`"
      :invalid="!model.rule"
      @update:model-value="aim({ rule: $event })"
    />
    <TokenPicker
      v-if="model?.do === 'dashboard'"
      :model-value="model.dashboard"
      :choices="named(home.dashboards)"
      :label="`${label}, dashboard`"
      :invalid="!model.dashboard"
      @update:model-value="aim({ dashboard: $event })"
    />
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
