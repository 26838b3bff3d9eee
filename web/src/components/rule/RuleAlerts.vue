<script setup lang="ts">
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { Rule } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** What keeps a rule from acting as it should, or kept it at its last run. */
const props = defineProps<{ rule: Rule }>()
const home = useHome()
const notices = useNotices()
const state = computed(() => props.rule.state)
const resume = () =>
  notices.attempt(() => ask(api.POST('/api/rules/{id}/resume', { params: { path: { id: props.rule.id } } })))
</script>

<template>
  <div>
    <p v-if="state.cutShort" class="fault" role="alert">
      Its last run went no further: {{ home.device(state.cutShortDevice)?.title }} {{ state.cutShort }}
    </p>
    <p v-if="state.callFailed" class="fault" role="alert">
      A step of it failed at {{ home.times.since(state.callFailedAt!, home.now) }}: {{ state.callFailed }}
    </p>
    <p v-if="state.pausedBy" class="paused" role="status">
      <template v-if="home.rule(state.pausedBy)">
        <RouterLink class="link" :to="`/rules/${state.pausedBy}`">{{ home.rule(state.pausedBy)!.title }}</RouterLink>
        keeps it from acting
      </template>
      <template v-else>Another rule keeps it from acting</template>
      since {{ home.times.since(state.pausedAt!, home.now) }}.
      <button type="button" class="plain link" @click="resume">Let it act again</button>
    </p>
    <p v-if="state.stopped" class="fault" role="alert">
      Stopped. {{ state.stopped }} Change it, or switch it off and on, to let it act again.
    </p>
  </div>
</template>

<style scoped>
.fault {
  color: var(--ember);
}
.paused {
  color: var(--ochre);
}
</style>
