<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { useHome } from '@/stores/home'
import TextToken from '@/components/tokens/TextToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Into which variable an answer goes, as a whole or a part of it. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

const intos = computed(() => [
  { value: '', title: 'nowhere' },
  ...home.variables.filter((v) => !v.expression).map((v) => ({ value: v.id, title: v.title })),
])
</script>

<template>
  <span class="soft">, its answer into </span>
  <TokenPicker
    :model-value="step.into ?? ''"
    :choices="intos"
    label="Where the answer goes"
    @update:model-value="
      change({
        into: $event || undefined,
        pick: $event ? step.pick : undefined,
        else: $event || step.kind !== 'action' ? step.else : undefined,
      })
    "
  />
  <template v-if="step.into">
    {{ ' ' }}
    <TextToken
      :model-value="step.pick"
      label="Part of the answer"
      empty="as a whole"
      :maximum="200"
      help="Of an answer in JSON one part, such as /main/temp."
      @update:model-value="change({ pick: $event || undefined })"
    />
  </template>
</template>
