<script setup lang="ts">
import { computed, shallowRef } from 'vue'
import { api, ask } from '@/api/client'
import type { Target } from '@/api/types'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Another scene mixed into a scene: how much of it is changed in place, until the scene is changed otherwise. */
const props = defineProps<{ scene: string; targets: Target[] }>()
const emit = defineEmits<{ change: [Target[]] }>()
const home = useHome()
const notices = useNotices()

const HALF = 50
/** What is mixed: the values as they were, with which scene, and what came out. */
const mixing = shallowRef<{ from: Target[]; scene: string; percent: number; came: string }>()
const same = computed(() => mixing.value?.came === JSON.stringify(props.targets))
const others = computed(() =>
  home.scenes.filter((s) => s.id !== props.scene && s.targets.length).map((s) => ({ value: s.id, title: s.title })),
)
const mix = (scene: string, percent: number) =>
  notices.attempt(async () => {
    const from = same.value ? mixing.value!.from : props.targets
    const targets = await ask(api.POST('/api/scenes/mix', { body: { targets: from, scene, percent } }))
    mixing.value = { from, scene, percent, came: JSON.stringify(targets) }
    emit('change', targets)
  })
</script>

<template>
  <p v-if="others.length && targets.length" class="mixing">
    <template v-if="mixing && same">
      <span class="soft">Mixed with </span>
      <NumberToken
        :model-value="mixing.percent"
        label="How much of it"
        unit="%"
        :minimum="0"
        :maximum="100"
        @update:model-value="mix(mixing.scene, $event)"
      />
      <span class="soft"> of </span>
      <TokenPicker
        :model-value="mixing.scene"
        :choices="others"
        label="Scene that is mixed in"
        @update:model-value="mix($event, mixing.percent)"
      />
    </template>
    <TokenPicker
      v-else
      :model-value="undefined"
      :choices="others"
      label="Scene to mix in"
      empty="Mix with another scene"
      verb
      @update:model-value="mix($event, HALF)"
    />
  </p>
</template>

<style scoped>
.mixing {
  padding: var(--space-4) 0;
}
</style>
