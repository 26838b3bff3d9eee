<script setup lang="ts">
import { computed } from 'vue'
import type { Device, Step } from '@/api/types'
import { join, split } from '@/lib/sentences'
import { GROUP } from '@/lib/steps'
import { useHome } from '@/stores/home'
import ActionInputs from './ActionInputs.vue'
import ToldToken from './ToldToken.vue'
import TokenPicker from './TokenPicker.vue'

/** What a device is asked for, and what players are to play. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

const plays = (d: Device | undefined) =>
  (d?.description.actions ?? []).some((a) => a.role === 'play' && a.inputs?.[0]?.type === 'text')
const roomOf = (d: Device) => home.roomTitle(d.room) || 'Without a room'

const actions = computed(() =>
  home.devices.flatMap((d) =>
    d.description.actions.map((a) => ({
      value: join(d.id, a.name),
      title: `${d.title}: ${a.title.toLowerCase()}`,
      group: roomOf(d),
    })),
  ),
)
const action = computed(() =>
  home.device(step.value.device)?.description.actions.find((a) => a.name === step.value.action),
)
function ask(value: string) {
  const [device, name] = split(value)
  change({ device, action: name, input: undefined })
}

const players = computed(() => [
  ...home.groups
    .filter((g) => (g.devices ?? []).some((id) => plays(home.device(id))))
    .map((g) => ({ value: `${GROUP}${g.id}`, title: `all ${g.title}`, group: 'Groups' })),
  ...home.devices.filter(plays).map((d) => ({ value: d.id, title: d.title, group: roomOf(d) })),
])
function choose(value: string) {
  const group = value.startsWith(GROUP)
  change({ device: group ? undefined : value, group: group ? value.slice(GROUP.length) : undefined })
}
</script>

<template>
  <template v-if="step.kind === 'play'">
    <ToldToken
      :model-value="step.text"
      label="What is played"
      empty="a station or a title"
      :maximum="200"
      help="A station, a title, or words of one."
      @update:model-value="change({ text: $event })"
    />
    <span class="soft"> on </span>
    <TokenPicker
      :model-value="step.group ? `${GROUP}${step.group}` : step.device"
      :choices="players"
      label="What plays"
      empty="choose a player"
      @update:model-value="choose"
    />
  </template>
  <template v-else>
    <TokenPicker
      :model-value="step.device && step.action ? join(step.device, step.action) : undefined"
      :choices="actions"
      label="What to ask"
      empty="choose what"
      @update:model-value="ask"
    />
    <ActionInputs
      v-if="action?.inputs?.length"
      :model-value="step.input ?? {}"
      :action="action"
      worked
      @update:model-value="change({ input: Object.keys($event).length ? $event : undefined })"
    />
  </template>
</template>
