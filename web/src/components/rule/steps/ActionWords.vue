<script setup lang="ts">
import { computed } from 'vue'
import type { Device, Step } from '@/api/types'
import { join, split } from '@/lib/sentences'
import { GROUP, setOf } from '@/lib/steps'
import { useHome } from '@/stores/home'
import ActionInputs from './ActionInputs.vue'
import AnswerWords from './AnswerWords.vue'
import ToldToken from '@/components/tokens/ToldToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** What a device is asked for, and what players are to play. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

const plays = (d: Device | undefined) =>
  (d?.description.actions ?? []).some((a) => a.role === 'play' && a.inputs?.[0]?.type === 'text')
const roomOf = (d: Device) => home.roomTitle(d.room) || 'Without a room'

/** The actions of the devices of a set, each name once. */
function setActions(devices: string[]) {
  const all = devices.flatMap((id) => home.device(id)?.description.actions ?? [])
  return all.filter((a, i) => all.findIndex((x) => x.name === a.name) === i)
}
const actions = computed(() => [
  ...home.devices.flatMap((d) =>
    d.description.actions.map((a) => ({
      value: join(d.id, a.name),
      title: `${d.title}: ${a.title.toLowerCase()}`,
      group: roomOf(d),
    })),
  ),
  ...home.sets.flatMap((s) =>
    setActions(s.devices).map((a) => ({
      value: join(GROUP + s.id, a.name),
      title: `all ${s.title}: ${a.title.toLowerCase()}`,
      group: s.kind,
    })),
  ),
])
const asked = computed(() => (step.value.group ? GROUP + step.value.group : step.value.device))
const action = computed(() =>
  setActions(home.set(step.value.group)?.devices ?? (step.value.device ? [step.value.device] : [])).find(
    (a) => a.name === step.value.action,
  ),
)
function ask(value: string) {
  const [about, name] = split(value)
  const group = setOf(about)
  change({
    device: group ? undefined : about,
    group,
    action: name,
    input: undefined,
    into: undefined,
    pick: undefined,
    else: undefined,
  })
}

const players = computed(() => [
  ...home.sets
    .filter((s) => s.devices.some((id) => plays(home.device(id))))
    .map((s) => ({ value: GROUP + s.id, title: `all ${s.title}`, group: s.kind })),
  ...home.devices.filter(plays).map((d) => ({ value: d.id, title: d.title, group: roomOf(d) })),
])
function choose(value: string) {
  const group = setOf(value)
  change({ device: group ? undefined : value, group })
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
      :model-value="asked && step.action ? join(asked, step.action) : undefined"
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
    <AnswerWords v-if="action?.answers && !step.group" v-model="step" />
  </template>
</template>
