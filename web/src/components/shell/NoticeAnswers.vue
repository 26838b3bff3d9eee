<script setup lang="ts">
import Button from 'primevue/button'
import { api, ask } from '@/api/client'
import type { Notice } from '@/api/types'
import { useNotices } from '@/stores/notices'

/** What somebody can do about what the household was told: say that they have seen it, or answer. */
const props = defineProps<{ notice: Notice; large?: boolean }>()
const notices = useNotices()
const path = { id: props.notice.id }

const see = () => notices.attempt(() => ask(api.POST('/api/notices/{id}/acknowledge', { params: { path } })))
const answer = (words: string) =>
  notices.attempt(() =>
    ask(
      api.POST('/api/notices/{id}/answer', {
        params: { path },
        body: { answer: words },
      }),
    ),
  )
</script>

<template>
  <span class="answers" :class="{ large }">
    <template v-if="notice.answers?.length && !notice.answer && !notice.seenAt">
      <Button
        v-for="a in notice.answers"
        :key="a"
        :size="large ? undefined : 'small'"
        severity="secondary"
        :label="a"
        @click="answer(a)"
      />
    </template>
    <Button
      v-else-if="!notice.seenAt"
      :size="large ? undefined : 'small'"
      severity="secondary"
      label="Seen"
      @click="see"
    />
  </span>
</template>

<style scoped>
.answers {
  display: inline-flex;
  gap: var(--space-8);
  flex-wrap: wrap;
}
.large :deep(button) {
  min-height: 64px;
  min-width: 96px;
  font-size: var(--type-head);
}
</style>
