<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import Textarea from 'primevue/textarea'
import type { SendingDraft, Way } from '@/lib/composing'

/** What is sent to set a value or to have something done: a payload on a topic, a request, or a message on a line. */
defineProps<{ way: Way; of: string; own?: string; value?: boolean }>()
const sending = defineModel<SendingDraft>({ required: true })

const methods = ['PUT', 'POST', 'GET', 'PATCH', 'DELETE']
</script>

<template>
  <div class="sending">
    <template v-if="way === 'topic'">
      <InputText v-model="sending.topic" size="small" placeholder="topic" :aria-label="`Topic that sets ${of}`" />
      <InputText
        v-if="sending.topic"
        v-model="sending.body"
        size="small"
        placeholder="{value}"
        :aria-label="`Message that sets ${of}`"
      />
    </template>
    <InputText
      v-else-if="way === 'line'"
      v-model="sending.body"
      size="small"
      class="mono wide"
      :placeholder="value ? 'such as VOL {value}' : 'such as MENU'"
      :aria-label="`Message for ${of}`"
    />
    <template v-else>
      <div class="row">
        <Select
          v-model="sending.method"
          size="small"
          :options="methods"
          :placeholder="value ? 'PUT' : 'POST'"
          :aria-label="`Method for ${of}`"
        />
        <InputText
          v-model="sending.address"
          size="small"
          class="mono wide"
          :placeholder="own || 'http://…'"
          :aria-label="`Address for ${of}`"
        />
      </div>
      <Textarea
        v-if="sending.method !== 'GET'"
        v-model="sending.body"
        size="small"
        rows="1"
        auto-resize
        class="mono wide"
        :placeholder="value ? 'body, such as {&quot;on&quot;: {value}}' : 'body'"
        :aria-label="`Body for ${of}`"
      />
      <details :open="!!sending.headers || !!sending.contentType">
        <summary class="small">Headers</summary>
        <Textarea
          v-model="sending.headers"
          size="small"
          rows="2"
          class="mono wide"
          placeholder="Name: value"
          :aria-label="`Headers for ${of}`"
        />
        <InputText
          v-if="sending.method !== 'GET'"
          v-model="sending.contentType"
          size="small"
          class="mono wide"
          placeholder="content type of the body, found by itself"
          :aria-label="`Content type for ${of}`"
        />
      </details>
    </template>
  </div>
</template>

<style scoped>
.sending {
  display: grid;
  gap: var(--space-6);
  flex: 1;
  min-width: 220px;
}
.row {
  display: flex;
  gap: var(--space-6);
}
.wide {
  width: 100%;
}
.small {
  font-size: var(--type-small);
}
summary {
  cursor: pointer;
}
details[open] {
  display: grid;
  gap: var(--space-6);
}
</style>
