<script setup lang="ts">
import { computed } from 'vue'
import type { Device } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { copyRules } from '@/lib/copyingKeys'
import { carried, copyOf, hasKeys, ruleCount } from '@/lib/keys'
import { documentOf } from '@/lib/documents'
import { useEdits } from '@/stores/edits'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Gives the keys of a device what those of another do, key by key of the same name. */
const props = defineProps<{ device: Device }>()
const home = useHome()
const notices = useNotices()
const edits = useEdits()

const others = computed(() =>
  home.devices
    .filter((d) => d.id !== props.device.id && hasKeys(d))
    .map((d) => ({ device: d, ...carried(home.rules, { from: d, to: props.device }) }))
    .filter((o) => o.rules.length),
)
const choices = computed(() =>
  others.value.map((o) => ({
    value: o.device.id,
    title: o.device.title,
    note: ruleCount(o.rules.length),
  })),
)
const copy = (id: string) =>
  notices.attempt(async () => {
    const { device: from, rules, missing } = others.value.find((o) => o.device.id === id)!
    const { count, takeBack } = await copyRules(rules, { from, to: props.device })
    const left = missing.length ? ` Without a key here: ${missing.join(', ')}.` : ''
    notices.done(`${ruleCount(count)} copied from ${from.title}.${left}`, takeBack)
  })
/** Lets this device take the place of another, such as a new model of a plate: the rules are for its keys from now on. */
const takeOver = (id: string) =>
  notices.attempt(async () => {
    const { device: from, rules, missing } = others.value.find((o) => o.device.id === id)!
    const all = rules.map((r) => ({
      id: r.id,
      before: documentOf('rule', r),
      after: copyOf(r, { from, to: props.device }, new Map<string, string>()),
    }))
    const turn = async (over: boolean) => {
      for (const { id: rule, before, after } of all)
        await edits.now('rule', rule, over ? before : after, over ? after : before)
    }
    await turn(true)
    const left = missing.length ? ` Still at ${from.title}, without a key here: ${missing.join(', ')}.` : ''
    notices.done(`${ruleCount(all.length)} of ${from.title} taken over.${left}`, () => turn(false))
  })
</script>

<template>
  <TokenPicker
    v-if="choices.length"
    :model-value="undefined"
    :choices="choices"
    label="Copy from another device"
    empty="Copy from another …"
    verb
    @update:model-value="copy"
  />
  <br v-if="choices.length" />
  <TokenPicker
    v-if="choices.length"
    :model-value="undefined"
    :choices="choices"
    label="Take over from another device"
    empty="Take the place of another …"
    verb
    @update:model-value="takeOver"
  />
</template>
