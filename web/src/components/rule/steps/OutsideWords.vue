<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { Step } from '@/api/types'
import AnswerWords from './AnswerWords.vue'
import DurationToken from '@/components/tokens/DurationToken.vue'
import ToldToken from '@/components/tokens/ToldToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** What a step says that reaches beyond the devices: a web address, a message, a program. */
const step = defineModel<Step>({ required: true })
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

const USUAL = 10
const methods = (['GET', 'POST', 'PUT', 'DELETE'] as const).map((value) => ({ value, title: value }))
const programs = ref<string[]>([])
onMounted(async () => {
  if (step.value.kind === 'program') programs.value = await ask(api.GET('/api/programs')).catch(() => [])
})
const programChoices = computed(() => programs.value.map((value) => ({ value, title: value })))
</script>

<template>
  <template v-if="step.kind === 'web'">
    <TokenPicker
      :model-value="step.method ?? 'GET'"
      :choices="methods"
      label="How to call it"
      @update:model-value="change({ method: $event })"
    />
    {{ ' ' }}
    <ToldToken
      :model-value="step.address"
      label="Address"
      empty="an address"
      :maximum="2000"
      help="Keys and passwords in it are hidden once it is saved. To hide another part, write it as (hide:part)."
      @update:model-value="change({ address: $event })"
    />
    {{ ' ' }}
    <TokenPicker
      :model-value="step.ownMachine ? 'also' : 'not'"
      :choices="[
        { value: 'not', title: 'but not on this machine' },
        { value: 'also', title: 'which may be on this machine' },
      ]"
      label="Whether the address may be on the hub’s own machine"
      @update:model-value="change({ ownMachine: $event === 'also' || undefined })"
    />
    <template v-if="step.method && step.method !== 'GET'">
      with
      <ToldToken
        :model-value="step.text"
        label="What is sent"
        empty="nothing"
        :maximum="2000"
        @update:model-value="change({ text: $event || undefined })"
      />
    </template>
  </template>
  <template v-else-if="step.kind === 'publish'">
    <ToldToken
      :model-value="step.text"
      label="The message"
      empty="an empty message"
      :maximum="2000"
      @update:model-value="change({ text: $event || undefined })"
    />
    under
    <ToldToken
      :model-value="step.topic"
      label="Topic"
      empty="a topic"
      :maximum="500"
      @update:model-value="change({ topic: $event })"
    />
    {{ ' ' }}
    <TokenPicker
      :model-value="step.retain ? 'kept' : 'once'"
      :choices="[
        { value: 'once', title: 'for those who listen now' },
        { value: 'kept', title: 'kept for those who come later' },
      ]"
      label="Whether it is kept"
      @update:model-value="change({ retain: $event === 'kept' || undefined })"
    />
  </template>
  <template v-else>
    <TokenPicker
      :model-value="step.program"
      :choices="programChoices"
      label="Program"
      :empty="programs.length ? 'choose a program' : 'none is in the folder “programs” of the data'"
      @update:model-value="change({ program: $event })"
    />
    with
    <ToldToken
      :model-value="step.arguments?.join(' | ')"
      label="Arguments"
      empty="no arguments"
      :maximum="1000"
      help="Several are parted by |."
      @update:model-value="change({ arguments: $event ? $event.split('|').map((a) => a.trim()) : undefined })"
    />
  </template>
  <template v-if="step.kind !== 'publish'">
    <AnswerWords v-model="step" />
    <span class="soft">, </span>
    <DurationToken
      :model-value="step.limitSeconds ?? USUAL"
      label="At most"
      lead="within "
      @update:model-value="change({ limitSeconds: $event === USUAL ? undefined : $event })"
    />
  </template>
</template>
