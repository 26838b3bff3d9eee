<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Which scene a step applies, or which of several come one after the other, and whether it goes off when it is there already. */
const step = defineModel<Step>({ required: true })
const home = useHome()
const sceneChoices = computed(() => home.scenes.map((s) => ({ value: s.id, title: s.title })))
const several = computed(() => step.value.scenes)
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })
const again = [
  { value: 'anew', title: 'it is applied again' },
  { value: 'off', title: 'its lights go off' },
]
</script>

<template>
  <template v-if="several">
    the next of
    <template v-for="(id, i) in several" :key="i">
      <TokenPicker
        :model-value="id"
        :choices="sceneChoices"
        :label="`Scene ${i + 1}`"
        :invalid="!home.scene(id)"
        @update:model-value="change({ scenes: several.map((x, k) => (k === i ? $event : x)) })"
      />
      <button
        type="button"
        class="plain soft"
        :aria-label="`Remove scene ${i + 1}`"
        @click="
          change(
            several.length > 2
              ? { scenes: several.filter((_, k) => k !== i) }
              : { scenes: undefined, scene: several.filter((_, k) => k !== i)[0] },
          )
        "
      >
        ×
      </button>
      {{ ' ' }}
    </template>
    <TokenPicker
      :model-value="undefined"
      :choices="sceneChoices"
      label="Scene to add"
      empty="and …"
      verb
      @update:model-value="change({ scenes: [...several, $event] })"
    />
  </template>
  <template v-else>
    <TokenPicker
      :model-value="step.scene"
      :choices="sceneChoices"
      label="Scene"
      empty="choose a scene"
      @update:model-value="change({ scene: $event })"
    />
    {{ ' ' }}
    <TokenPicker
      v-if="step.scene"
      :model-value="undefined"
      :choices="sceneChoices.filter((s) => s.value !== step.scene)"
      label="Scene that follows"
      empty="then …"
      verb
      @update:model-value="change({ scene: undefined, scenes: [step.scene!, $event] })"
    />
  </template>
  <template v-if="step.scene || several">
    <span class="soft">; {{ several ? 'after the last, ' : 'if it is in effect already, ' }}</span>
    <TokenPicker
      :model-value="step.orOff ? 'off' : 'anew'"
      :choices="several ? [{ value: 'anew', title: 'the first again' }, again[1]!] : again"
      label="Where it is in effect already"
      @update:model-value="change({ orOff: $event === 'off' || undefined })"
    />
  </template>
</template>
