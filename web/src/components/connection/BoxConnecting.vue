<script setup lang="ts">
import Button from 'primevue/button'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { FoundBridge } from '@/api/types'
import { useNotices } from '@/stores/notices'

/** A box that needs no key: it is just connected to. */
const props = defineProps<{ box: FoundBridge }>()
const notices = useNotices()

const connect = () =>
  notices.attempt(async () => {
    await ask(api.POST('/api/connections', { body: { kind: 'transceiver', address: props.box.address } }))
    notices.done(`${props.box.title} is connected.`)
  })
</script>

<template>
  <article class="box">
    <div>
      <b>{{ box.title }}</b>
      <span class="soft mono small">{{ box.serial }} · {{ box.address }}</span>
    </div>
    <RouterLink v-if="box.connection" class="link" :to="`/connections/${box.connection}`">Connected</RouterLink>
    <Button v-else label="Connect" :aria-label="`Connect to ${box.title}`" @click="connect" />
  </article>
</template>

<style scoped>
.box {
  border-top: 1px solid var(--rule);
  padding: var(--space-12) 0;
  margin-top: var(--space-8);
  display: flex;
  justify-content: space-between;
  gap: var(--space-16);
  align-items: center;
}
.small {
  display: block;
  font-size: var(--type-small);
}
</style>
