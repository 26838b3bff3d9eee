<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { api, ask, Problem, reasonOf } from '@/api/client'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Sends a message that is written by hand to a topic of a broker; the journal says so. */
const home = useHome()
const notices = useNotices()
const brokers = computed(() =>
  home.connections.filter((c) => ['hubBroker', 'broker'].includes(c.kind)).map((c) => ({ id: c.id, title: c.title })),
)
const chosen = ref('')
const connection = computed(() => chosen.value || brokers.value[0]?.id || '')
const topic = ref('')
const payload = ref('')
const wrong = ref('')
async function send() {
  wrong.value = ''
  try {
    await ask(
      api.POST('/api/connections/{id}/say', {
        params: { path: { id: connection.value } },
        body: { topic: topic.value.trim(), payload: payload.value },
      }),
    )
    notices.done(`Sent to ${topic.value.trim()}.`)
  } catch (error) {
    wrong.value = error instanceof Problem ? (error.places[0]?.message ?? error.message) : reasonOf(error)
  }
}
</script>

<template>
  <form class="send" @submit.prevent="send">
    <Select
      v-if="brokers.length > 1"
      :model-value="connection"
      :options="brokers"
      option-label="title"
      option-value="id"
      size="small"
      aria-label="Broker"
      @update:model-value="chosen = $event"
    />
    <InputText v-model="topic" size="small" placeholder="Topic" aria-label="Topic to send to" :invalid="!!wrong" />
    <InputText v-model="payload" size="small" placeholder="Message" aria-label="Message to send" class="message" />
    <Button type="submit" size="small" severity="secondary" label="Send" :disabled="!topic.trim()" />
    <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
  </form>
</template>

<style scoped>
.send {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
}
.message {
  flex: 1 1 200px;
}
.wrong {
  color: var(--ember);
  font-size: var(--type-small);
}
</style>
