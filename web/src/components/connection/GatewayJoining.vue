<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { Gateway } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** A radio gateway that can be opened to new devices, with a countdown. It always shuts by itself. */
const props = defineProps<{ connection: string; gateway: Gateway }>()
const home = useHome()
const notices = useNotices()

const SECONDS = 90
const LONGEST = 180

const left = computed(() => {
  if (!props.gateway.openUntil) return 0
  return Math.max(0, Math.round((Date.parse(props.gateway.openUntil) - home.now) / 1000))
})
const joined = computed(() => {
  const since = props.gateway.openedAt
  if (!since) return []
  return home.found.devices.filter((d) => d.gateway === props.gateway.name && d.since && d.since >= since)
})

const open = (seconds: number) =>
  notices.attempt(() =>
    ask(
      api.POST('/api/connections/{id}/join', {
        params: { path: { id: props.connection } },
        body: { gateway: props.gateway.name, seconds },
      }),
    ),
  )
</script>

<template>
  <article class="gateway">
    <div class="row">
      <div>
        <b>Radio gateway {{ gateway.name }}</b>
        <span class="soft small">{{
          left ? 'Open: press the joining button of each new device now.' : 'Shut: no new device can join.'
        }}</span>
      </div>
      <span v-if="left" class="row">
        <b class="mono count" role="timer" aria-live="off">{{ left }} s</b>
        <Button severity="secondary" label="Longer" :disabled="left > LONGEST - 10" @click="open(LONGEST)" />
        <Button severity="secondary" label="Shut it" @click="open(0)" />
      </span>
      <Button v-else severity="secondary" label="Let devices join" @click="open(SECONDS)" />
    </div>
    <p v-if="left" class="bar" aria-hidden="true"><i :style="{ width: `${(left / LONGEST) * 100}%` }" /></p>
    <p v-if="left" class="small" aria-live="polite">
      <template v-if="joined.length">Joined: {{ joined.map((d) => d.label).join(', ') }}</template>
      <span v-else class="soft">Nothing has joined yet. It shuts by itself.</span>
    </p>
  </article>
</template>

<style scoped>
.gateway {
  border-top: 1px solid var(--rule);
  padding: var(--space-12) 0;
  margin-top: var(--space-8);
}
.row {
  display: flex;
  justify-content: space-between;
  gap: var(--space-14);
  align-items: center;
}
.small {
  display: block;
  font-size: var(--type-small);
}
.count {
  font-size: var(--type-title);
  font-weight: 500;
  color: var(--ochre);
}
.bar {
  height: 4px;
  background: var(--rule);
  margin: var(--space-8) 0 var(--space-6);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--ochre);
  transition: width 500ms linear;
}
</style>
