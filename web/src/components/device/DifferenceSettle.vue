<script setup lang="ts">
import Button from 'primevue/button'
import { api, ask } from '@/api/client'
import { useNotices } from '@/stores/notices'

/** An open difference between hub and device, and the two ways to settle it. */
const props = defineProps<{ device: string; property: string; title: string }>()
const notices = useNotices()

const settle = (verb: 'believe' | 'set') =>
  notices.attempt(() =>
    ask(
      api.POST('/api/devices/{id}/properties/{property}/difference', {
        params: { path: { id: props.device, property: props.property } },
        body: { verb },
      }),
    ),
  )
</script>

<template>
  <p class="difference" role="alert">
    <span><slot /></span>
    <Button
      size="small"
      severity="secondary"
      label="Believe the device"
      :aria-label="`Believe the device: ${title}`"
      @click="settle('believe')"
    />
    <Button size="small" label="Set it again" :aria-label="`Set it again: ${title}`" @click="settle('set')" />
  </p>
</template>

<style scoped>
.difference {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-12);
  align-items: center;
  padding: var(--space-6) var(--space-10);
  border-left: 3px solid var(--ember);
  background: var(--sheet);
}
</style>
