<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink } from 'vue-router'
import type { Since } from '@/api/types'
import FigureRow from './FigureRow.vue'

/** How often rules acted since a time, what failed, what did not act and why, what is new and what fell silent. */
defineProps<{ since: Since }>()
const SHOWN = 3
const all = ref(false)
const times = (n: number) => (n === 1 ? 'once' : `${n} times`)
</script>

<template>
  <FigureRow v-if="since.acted" :figure="since.acted">
    {{ since.acted === 1 ? 'time a rule' : 'times rules' }} acted, most often
    <template v-for="(r, i) in since.most.slice(0, SHOWN)" :key="r.rule"
      ><template v-if="i">, </template><RouterLink class="link" :to="`/rules/${r.rule}`">{{ r.title }}</RouterLink> ({{
        r.count
      }})</template
    >
  </FigureRow>
  <FigureRow v-for="r in since.failed" :key="r.rule" :figure="r.count" alert>
    {{ r.count === 1 ? 'run' : 'runs' }} of
    <RouterLink class="link" :to="`/rules/${r.rule}`">{{ r.title }}</RouterLink> did not come to the end
  </FigureRow>
  <FigureRow v-for="d in since.commands.slice(0, SHOWN)" :key="d.device" :figure="d.count" alert>
    {{ d.count === 1 ? 'command' : 'commands' }} failed at
    <RouterLink class="named" :to="`/devices/${d.device}`">{{ d.title }}</RouterLink>{{ d.text ? `: ${d.text}` : '.' }}
    <RouterLink class="link small" :to="`/journal?entry=${d.entry}`">Why?</RouterLink>
  </FigureRow>
  <slot />
  <FigureRow v-if="since.never.length" :figure="since.never.length">
    {{ since.never.length === 1 ? 'rule' : 'rules' }} did not act{{ all ? ':' : '.' }}
    <button v-if="!all" class="plain link" :aria-expanded="false" @click="all = true">See why</button>
    <template v-else>
      <span v-for="r in since.never" :key="r.rule" class="never"
        ><RouterLink class="link" :to="`/rules/${r.rule}`">{{ r.title }}</RouterLink
        ><template v-if="r.keptBack"> was kept back {{ times(r.keptBack) }}</template
        ><template v-if="r.reason">. {{ r.reason }}</template></span
      >
    </template>
  </FigureRow>
  <FigureRow v-if="since.new.length" :figure="since.new.length">
    {{ since.new.length === 1 ? 'device is' : 'devices are' }} new:
    <template v-for="(d, i) in since.new.slice(0, SHOWN)" :key="d.device"
      ><template v-if="i">, </template
      ><RouterLink class="named" :to="`/devices/${d.device}`">{{ d.title }}</RouterLink></template
    ><template v-if="since.new.length > SHOWN"> and others</template>
  </FigureRow>
  <FigureRow v-for="d in since.silent" :key="d.device">
    <RouterLink class="named" :to="`/devices/${d.device}`">{{ d.title }}</RouterLink> fell silent. {{ d.text }}
  </FigureRow>
</template>

<style scoped>
.never {
  display: block;
  font-size: var(--type-small);
  color: var(--ink-soft);
  padding-top: var(--space-4);
}
.small {
  font-size: var(--type-small);
}
</style>
