<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import RuleKey from '@/instruments/RuleKey.vue'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import { usedProperties } from '@/lib/devices'
import { useHome } from '@/stores/home'
import { optionOf, useCell } from '../cell'
import ControlFace from './ControlFace.vue'

/** Asks a device to do something, and shows what it is doing. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const attempt = useAttempt()
const { still } = useCell()

const device = computed(() => home.device(props.control.device))
const action = computed(() => device.value?.description.actions.find((a) => a.name === props.control.action))
const title = computed(() => props.control.label || device.value?.title || 'Nothing')
/** What a device says that it is doing: its first text that is no setting. */
const doing = computed(() => {
  if (!device.value || !optionOf(props.control, 'states', true)) return ''
  const p = usedProperties(device.value).find((one) => !one.writable && ['text', 'option'].includes(one.type))
  return device.value.states.find((s) => s.name === p?.name)?.text ?? ''
})
const missing = computed(() =>
  (action.value?.inputs ?? []).filter((i) => i.required && props.control.inputs?.[i.name] === undefined),
)
const acts = computed(() => !!action.value && !missing.value.length)
/** Why it did not do it when it was asked last. */
const undone = computed(() => device.value?.undone?.find((u) => u.action === props.control.action))
const verb = computed(() => optionOf(props.control, 'verb', '') || action.value?.title || 'gone')
const press = () => attempt(() => act.ask(props.control.device!, props.control.action!, props.control.inputs))
</script>

<template>
  <ControlFace
    :title="title"
    :figure="device && action ? doing : 'gone'"
    :silent="device?.silent"
    :failed="!!undone"
    :acts="acts"
    @tap="press"
  >
    <template #reason>
      <template v-if="!device">It is no longer in the home</template>
      <template v-else-if="device.silent">{{ device.silentReason }}</template>
      <template v-else-if="undone">Not done: {{ undone.reason }}</template>
      <template v-else-if="missing[0]"
        >It has to be told {{ missing[0].title.toLowerCase() }}: arrange this dashboard</template
      >
    </template>
    <template v-if="acts" #foot>
      <RuleKey class="key" :label="title" :verb="verb" :failed="!!undone" size="panel" :still="still" @tap="press" />
    </template>
  </ControlFace>
</template>

<style scoped>
.key {
  align-self: flex-start;
}
</style>
