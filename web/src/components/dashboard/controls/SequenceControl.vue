<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import RuleKey from '@/instruments/RuleKey.vue'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import { useHome } from '@/stores/home'
import { useCell } from '../cell'
import ControlFace from './ControlFace.vue'

/** Starts a sequence of scenes, and stops it. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const attempt = useAttempt()
const { still } = useCell()
const sequence = computed(() => home.sequences.find((s) => s.id === props.control.sequence))
const running = computed(() => !!sequence.value?.state.running)
const title = computed(() => props.control.label || sequence.value?.title || 'Nothing')
const press = () => attempt(() => (running.value ? act.stopSequence : act.startSequence)(props.control.sequence!))
</script>

<template>
  <ControlFace :title="title" :figure="sequence ? '' : 'gone'" :on="running" :acts="!!sequence" @tap="press">
    <template #reason>
      <template v-if="!sequence">It is no longer in the home</template>
      <template v-else-if="running && sequence.state.since"
        >runs since {{ home.times.since(sequence.state.since, home.now) }}</template
      >
      <template v-else>sequence</template>
    </template>
    <template v-if="sequence" #foot>
      <RuleKey
        class="key"
        :label="title"
        :verb="running ? 'Stop' : 'Start'"
        :on="running"
        size="panel"
        :still="still"
        @tap="press"
      />
    </template>
  </ControlFace>
</template>

<style scoped>
.key {
  align-self: flex-start;
}
</style>
