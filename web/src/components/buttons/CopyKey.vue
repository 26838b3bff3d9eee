<script setup lang="ts">
import { computed } from 'vue'
import { Problem } from '@/api/client'
import type { Device, DeviceEvent, Rule } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { copyRules } from '@/lib/copyingKeys'
import { carried, hasKeys, keysOf, ruleCount } from '@/lib/keys'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Gives another key, of this device or of another, what a key does. */
const props = defineProps<{ device: Device; event: DeviceEvent; rules: Rule[] }>()
const home = useHome()
const notices = useNotices()

const targets = computed(() =>
  home.devices.filter(hasKeys).flatMap((to) =>
    keysOf(to)
      .filter((k) => to.id !== props.device.id || k.name !== props.event.name)
      .map((k) => {
        const way = { from: props.device, to, key: { from: props.event, to: k } }
        return { value: `${to.id} ${k.name}`, title: `${to.title}, ${k.title.toLowerCase()}`, way }
      }),
  ),
)
const copy = (value: string) =>
  notices.attempt(async () => {
    const { way, title } = targets.value.find((t) => t.value === value)!
    const { rules, missing } = carried(props.rules, way)
    const left = missing.length ? `Not done there: ${missing.join(', ')}.` : ''
    if (!rules.length) throw new Problem(422, `Nothing of it can be done at ${title}. ${left}`)
    const { count, takeBack } = await copyRules(rules, way)
    notices.done(`${ruleCount(count)} copied to ${title}. ${left}`.trim(), takeBack)
  })
</script>

<template>
  <TokenPicker
    :model-value="undefined"
    :choices="targets"
    :label="`Copy what ${event.title} does to another key`"
    empty="Copy to another key …"
    verb
    @update:model-value="copy"
  />
</template>
