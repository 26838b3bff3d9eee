<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import SelectButton from 'primevue/selectbutton'
import Textarea from 'primevue/textarea'
import { computed, ref } from 'vue'
import type { Problem } from '@/api/client'
import type { ReachDraft } from '@/lib/composing'
import SendingEdit from './SendingEdit.vue'

/** How a device that nothing describes is reached: its address, its key, and how messages on its line are told apart. */
const props = defineProps<{ problem?: Problem }>()
const reach = defineModel<ReachDraft>({ required: true })

const ways = [
  { value: 'http', title: 'Over HTTP' },
  { value: 'line', title: 'A line of TCP' },
]
const schemes = [
  { value: '', title: 'no key' },
  { value: 'basic', title: 'user and password' },
  { value: 'digest', title: 'user and password, as a digest' },
  { value: 'bearer', title: 'a token' },
  { value: 'header', title: 'a key in a header' },
  { value: 'query', title: 'a key in the address' },
]
const endings = [
  { value: '', title: 'CR LF, or LF' },
  { value: '\\n', title: 'LF alone' },
  { value: '\\r', title: 'CR alone' },
  { value: '\\x03', title: 'ETX' },
  { value: '\\x00', title: 'a zero' },
  { value: ';', title: 'a semicolon' },
]
const OTHER = 'other'
const other = ref(!endings.some((e) => e.value === reach.value.end))
const ending = computed({
  get: () => (other.value ? OTHER : reach.value.end),
  set: (chosen) => {
    other.value = chosen === OTHER
    if (!other.value) reach.value.end = chosen
  },
})
const secured = computed(() => reach.value.scheme === 'basic' || reach.value.scheme === 'digest')
/** What the hub says is wrong with one part, such as line.end, whatever it lies within. */
const wrong = (field: string) =>
  props.problem?.places.find((p) => p.location.replace(/^(body\.)?(composed\.)?/, '') === field)?.message
</script>

<template>
  <section class="reach" aria-label="How it is reached">
    <h2>How it is reached</h2>
    <SelectButton
      v-model="reach.way"
      :options="ways"
      option-label="title"
      option-value="value"
      :allow-empty="false"
      size="small"
      aria-label="Way to the device"
    />
    <InputText
      v-model="reach.address"
      class="mono"
      fluid
      :placeholder="reach.way === 'http' ? 'http://192.168.1.30/status' : '192.168.1.31:23'"
      aria-label="Address of the device"
      :invalid="!!wrong('address')"
    />
    <p v-if="wrong('address')" class="wrong small" role="alert">{{ wrong('address') }}</p>

    <template v-if="reach.way === 'http'">
      <div class="row">
        <span class="small">it wants</span>
        <Select
          v-model="reach.scheme"
          size="small"
          :options="schemes"
          placeholder="no key"
          option-label="title"
          option-value="value"
          aria-label="What it wants to be shown"
        />
        <InputText
          v-if="reach.scheme === 'header' || reach.scheme === 'query'"
          v-model="reach.keyName"
          size="small"
          class="mono"
          placeholder="its name"
          aria-label="Name of the key"
          :invalid="!!wrong('security.name')"
        />
        <InputText v-if="secured" v-model="reach.user" size="small" placeholder="user" aria-label="User" />
        <InputText
          v-if="reach.scheme"
          v-model="reach.key"
          type="password"
          autocomplete="off"
          size="small"
          :placeholder="secured ? 'password' : 'key'"
          aria-label="Key"
          :invalid="!!wrong('key')"
        />
      </div>
      <p v-if="reach.scheme" class="soft small">It is kept apart, encrypted, and shown nowhere.</p>
      <details :open="!!reach.read.method || !!reach.read.headers || !!reach.read.body">
        <summary class="small">Asked otherwise than by a plain GET</summary>
        <SendingEdit v-model="reach.read" way="http" of="reading it" :own="reach.address" />
      </details>
    </template>

    <template v-else>
      <div class="row">
        <span class="small">messages end with</span>
        <Select
          v-model="ending"
          size="small"
          placeholder="CR LF, or LF"
          :options="[...endings, { value: OTHER, title: 'something else' }]"
          option-label="title"
          option-value="value"
          aria-label="What messages end with"
        />
        <InputText
          v-if="other"
          v-model="reach.end"
          size="small"
          class="mono"
          placeholder="such as \r\n\x04"
          aria-label="What else messages end with"
          :invalid="!!wrong('line.end')"
        />
        <label class="row small"
          ><Checkbox v-model="reach.json" binary aria-label="Messages are JSON" /> are JSON</label
        >
      </div>
      <p v-if="wrong('line.end')" class="wrong small" role="alert">{{ wrong('line.end') }}</p>
      <details
        :open="!!(reach.begin || reach.opening || reach.alive || reach.accepted || reach.refused || reach.unanswered)"
      >
        <summary class="small">More about its line</summary>
        <div class="more small">
          <label for="line-begin">messages begin with</label>
          <InputText
            id="line-begin"
            v-model="reach.begin"
            size="small"
            class="mono"
            placeholder="nothing, or such as \x02"
          />
          <label for="line-opening">sent when the line is opened</label>
          <Textarea
            id="line-opening"
            v-model="reach.opening"
            size="small"
            rows="1"
            auto-resize
            class="mono"
            placeholder="nothing"
          />
          <label for="line-alive">sent again and again, to keep it open</label>
          <InputText id="line-alive" v-model="reach.alive" size="small" class="mono" placeholder="nothing" />
          <label for="line-accepted">“done” is said as</label>
          <InputText
            id="line-accepted"
            v-model="reach.accepted"
            size="small"
            class="mono"
            placeholder="a pattern, such as OK"
          />
          <label for="line-refused">a refusal is said as</label>
          <InputText
            id="line-refused"
            v-model="reach.refused"
            size="small"
            class="mono"
            :placeholder="reach.json ? 'a pointer, such as /error' : 'a pattern, such as ERR (.*)'"
          />
          <label for="line-unanswered">it answers nothing to what it is told</label>
          <Checkbox v-model="reach.unanswered" binary input-id="line-unanswered" />
        </div>
      </details>
      <template v-for="field in ['line.begin', 'line.accepted', 'line.refused']" :key="field">
        <p v-if="wrong(field)" class="wrong small" role="alert">{{ wrong(field) }}</p>
      </template>
    </template>
  </section>
</template>

<style scoped>
.reach {
  display: grid;
  gap: var(--space-8);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
}
.small {
  font-size: var(--type-small);
}
summary {
  cursor: pointer;
}
.more {
  display: grid;
  grid-template-columns: minmax(150px, auto) minmax(0, 1fr);
  gap: var(--space-6) var(--space-12);
  align-items: center;
  margin-top: var(--space-6);
}
.wrong {
  color: var(--ember);
}
p {
  margin: 0;
}
</style>
