<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { act } from '@/lib/act'
import { useAsked } from '@/lib/asked'
import { useHome } from '@/stores/home'
import ControlFace from './ControlFace.vue'

/** Runs a rule, or shows that it holds. */
const props = defineProps<{ control: Control; still?: boolean }>()
const home = useHome()
const { asked, attempt } = useAsked()

const rule = computed(() => home.rule(props.control.rule))
const on = computed(
  () => ['holding', 'ending'].includes(rule.value?.state.phase ?? '') || !!rule.value?.state.frames?.length,
)
const stopped = computed(() => !!rule.value?.state.problems.length || !!rule.value?.state.stopped)
const figure = computed(() => {
  if (!rule.value) return 'gone'
  if (stopped.value) return 'stopped'
  if (!rule.value.enabled) return 'off'
  if (!rule.value.whenever) return on.value ? 'running' : 'run'
  return { idle: 'waiting', armed: 'about to', holding: 'holding', ending: 'letting go' }[rule.value.state.phase]
})
</script>

<template>
  <ControlFace
    :title="control.label || rule?.title || 'Nothing'"
    :figure="figure"
    :on="on"
    :pending="asked"
    :failed="stopped"
    :acts="!!rule && !rule.whenever"
    :still="still"
    band
    @tap="attempt(() => act.runRule(control.rule!))"
  >
    <template #reason>
      <template v-if="!rule">It is no longer in the home</template>
      <template v-else-if="rule.state.problems[0]">{{ rule.state.problems[0].message }}</template>
      <template v-else-if="rule.state.lastBegan">last {{ home.times.since(rule.state.lastBegan, home.now) }}</template>
    </template>
  </ControlFace>
</template>
