<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '@/api/types'
import { GROUP, MEMBER, setOf } from '@/lib/steps'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** What a step remembers, or puts back. */
const step = defineModel<Step>({ required: true })
const props = defineProps<{
  /** Id of the group of the each around. */
  member?: string
}>()
const home = useHome()
const change = (part: Partial<Step>) => (step.value = { ...step.value, ...part })

/** A scene stands for all that it sets. */
const SCENE = 'scene:'
const memberGroup = computed(() => home.set(props.member))
const aboutValue = computed(() =>
  step.value.scene !== undefined
    ? SCENE + step.value.scene
    : step.value.group
      ? `${GROUP}${step.value.group}`
      : step.value.device,
)
const abouts = computed(() => [
  ...home.scenes.map((s) => ({ value: SCENE + s.id, title: `all that scene ${s.title} sets`, group: 'Scenes' })),
  ...(memberGroup.value ? [{ value: MEMBER, title: 'the one whose turn it is' }] : []),
  ...home.sets.map((s) => ({ value: `${GROUP}${s.id}`, title: `all ${s.title}`, group: s.kind })),
  ...home.devices.map((d) => ({ value: d.id, title: d.title, group: home.roomTitle(d.room) || 'Without a room' })),
])
function about(value: string) {
  if (value.startsWith(SCENE)) {
    change({ scene: value.slice(SCENE.length), device: undefined, group: undefined })
    return
  }
  const group = setOf(value)
  change({ scene: undefined, device: group ? undefined : value, group })
}
</script>

<template>
  <TokenPicker
    :model-value="aboutValue"
    :choices="abouts"
    label="What to remember"
    empty="choose a device"
    @update:model-value="about"
  />
</template>
