<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import RuleKey from '@/instruments/RuleKey.vue'
import { act } from '@/lib/act'
import { useAsked } from '@/lib/asked'
import { useHome } from '@/stores/home'
import { optionOf, useCell } from '../cell'
import ControlFace from './ControlFace.vue'

/** A rule as a key that runs it, with what it did last; one that holds is only shown. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const { still } = useCell()
const { asked, attempt } = useAsked()

const rule = computed(() => home.rule(props.control.rule))
const title = computed(() => props.control.label || rule.value?.title || 'Nothing')
const on = computed(
  () => ['holding', 'ending'].includes(rule.value?.state.phase ?? '') || !!rule.value?.state.frames?.length,
)
const stopped = computed(() => !!rule.value?.state.problems.length || !!rule.value?.state.stopped)
const acts = computed(() => !!rule.value && !rule.value.whenever)
const standing = computed(() => {
  if (!rule.value) return 'gone'
  if (stopped.value) return 'stopped'
  if (!rule.value.enabled) return 'off'
  if (!rule.value.whenever) return on.value ? 'running' : ''
  return { idle: 'waiting', armed: 'about to', holding: 'holding', ending: 'letting go' }[rule.value.state.phase]
})
const run = () => attempt(() => act.runRule(props.control.rule!))
</script>

<template>
  <ControlFace :title="title" :figure="standing" :on="on" :pending="asked" :failed="stopped" :acts="acts" @tap="run">
    <template #reason>
      <template v-if="!rule">It is no longer in the home</template>
      <template v-else-if="rule.state.problems[0]">{{ rule.state.problems[0].message }}</template>
      <template v-else-if="rule.state.lastBegan">last {{ home.times.since(rule.state.lastBegan, home.now) }}</template>
    </template>
    <template v-if="acts" #foot>
      <RuleKey
        class="key"
        :label="title"
        :verb="on ? 'Running' : optionOf(control, 'verb', '') || 'Run'"
        :on="on"
        :pending="asked"
        :failed="stopped"
        size="panel"
        :still="still"
        @tap="run"
      />
    </template>
  </ControlFace>
</template>

<style scoped>
.key {
  align-self: flex-start;
}
</style>
