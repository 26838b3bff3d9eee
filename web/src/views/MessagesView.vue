<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import type { WireMessage } from '@/api/types'
import MessageRow from '@/components/connection/MessageRow.vue'
import SendMessage from '@/components/connection/SendMessage.vue'
import ErrorNote from '@/components/page/ErrorNote.vue'
import PlainPage from '@/components/page/PlainPage.vue'
import { download } from '@/lib/download'
import { useLooking } from '@/lib/looking'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'

/** All that goes in and out of every connection, as it was said and what it became. */
const home = useHome()
const session = useSession()
const route = useRoute()
const router = useRouter()
useLooking('message')

/** How many messages are shown, the newest. */
const SHOWN = 300
/** How many of the newest are read again: a command is sent before it is known what becomes of it. */
const UNSETTLED = 40
const messages = shallowRef<WireMessage[]>([])
const newest = ref(0)
const lost = ref(0)
const paused = ref(false)
const failed = ref('')
const open = ref<number>()

const filter = (name: string) =>
  computed({
    get: () => String(route.query[name] ?? ''),
    set: (to: string | null) => void router.replace({ query: { ...route.query, [name]: to || undefined } }),
  })
const connection = filter('connection')
const device = filter('device')
const way = filter('way')
const words = filter('words')
const ways = [
  { value: 'in', title: 'came in' },
  { value: 'out', title: 'sent' },
]
const connections = computed(() => home.connections.map((c) => ({ value: c.id, title: c.title })))
const devices = computed(() => home.devices.map((d) => ({ value: d.id, title: d.title })))

/** How many came since that are kept and did not fit into one reading, where nothing is filtered. */
function skipped(read: number, now: number): number {
  if (read < SHOWN || connection.value || device.value || way.value || words.value) return 0
  return Math.max(0, now - newest.value - read)
}

let reading = false
/** What is asked for while there is a reading on its way: what came since, or all anew. */
let next: 'since' | 'anew' | undefined
/** Reads what came since, or all that is kept where the filter is another. One reading at a time: what comes meanwhile is read next. */
async function read(anew = false) {
  if (paused.value && !anew) return
  if (reading) {
    next = anew || next === 'anew' ? 'anew' : 'since'
    return
  }
  reading = true
  try {
    const query = {
      after: anew ? 0 : Math.max(0, newest.value - UNSETTLED),
      connection: connection.value || undefined,
      device: device.value || undefined,
      way: (way.value || undefined) as 'in' | 'out' | undefined,
      words: words.value || undefined,
      limit: SHOWN,
    }
    const more = await ask(api.GET('/api/messages', { params: { query } }))
    const known = anew ? [] : messages.value.filter((m) => m.number <= query.after)
    messages.value = [...known, ...more.messages].slice(-SHOWN)
    const missed = Math.max(0, (more.lost ?? 0) - UNSETTLED)
    lost.value = anew ? 0 : lost.value + missed + skipped(more.messages.length, more.newest)
    newest.value = more.newest
    failed.value = ''
  } catch (error) {
    failed.value = reasonOf(error)
  } finally {
    reading = false
  }
  const then = next
  next = undefined
  if (then) void read(then === 'anew')
}
void read(true)
watchDebounced([connection, device, way, words], () => read(true), { debounce: 200 })
watch(
  () => home.newestMessage,
  () => void read(),
)
watch(paused, (now) => {
  if (!now) void read()
})
function clear() {
  messages.value = []
  lost.value = 0
}
const shown = computed(() => [...messages.value].reverse())
const save = () => download('messages.json', JSON.stringify(messages.value, null, 2))
</script>

<template>
  <PlainPage title="Messages">
    <template #lead
      >What goes over every connection, as it was sent, and what it became. Answers to polls stand here where they are
      new; of a broker elsewhere, what the home listens to.</template
    >
    <template #buttons>
      <Button
        severity="secondary"
        :label="paused ? 'Go on' : 'Pause'"
        :aria-pressed="paused"
        @click="paused = !paused"
      />
      <Button severity="secondary" label="Clear" @click="clear" />
      <Button severity="secondary" label="Save as a file" :disabled="!messages.length" @click="save" />
    </template>
    <div class="filters">
      <Select
        v-model="connection"
        :options="connections"
        option-label="title"
        option-value="value"
        size="small"
        placeholder="every connection"
        show-clear
        aria-label="Connection"
      />
      <Select
        v-model="device"
        :options="devices"
        option-label="title"
        option-value="value"
        size="small"
        filter
        placeholder="every device"
        show-clear
        aria-label="Device"
      />
      <Select
        v-model="way"
        :options="ways"
        option-label="title"
        option-value="value"
        size="small"
        placeholder="in and out"
        show-clear
        aria-label="Way"
      />
      <InputText v-model="words" size="small" placeholder="Words or topic" aria-label="Words or topic" />
    </div>
    <SendMessage v-if="session.setsUp" />
    <ErrorNote v-if="failed" :reason="failed" @again="read(true)" />
    <p v-if="lost" class="soft small" role="status">
      {{ lost }} {{ lost === 1 ? 'message' : 'messages' }} came faster than can be shown and
      {{ lost === 1 ? 'was' : 'were' }} left out here; the house had {{ lost === 1 ? 'it' : 'them' }}.
    </p>
    <ol v-if="shown.length" aria-label="Messages">
      <MessageRow
        v-for="m in shown"
        :key="m.number"
        :message="m"
        :open="open === m.number"
        @open="open = open === m.number ? undefined : m.number"
      />
    </ol>
    <p v-else-if="!failed" class="soft">No message yet that fits.</p>
  </PlainPage>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  padding: var(--space-12) 0;
}
.small {
  font-size: var(--type-small);
}
ol {
  margin: var(--space-8) 0 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--ink);
}
</style>
