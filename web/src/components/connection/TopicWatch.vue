<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { Topic } from '@/api/types'
import { useNotices } from '@/stores/notices'
import ComposeDevice from '@/components/compose/ComposeDevice.vue'

/** Topics as they arrive at a broker; a device can be made of any. */
const props = defineProps<{
  connection: string
  /** The topic of which a device is to be made, if somebody comes for that. */
  topic?: string
}>()
const notices = useNotices()

const READ_EVERY = 1000
const topics = ref<Topic[]>()
const search = ref('')
const open = ref('')

const read = () =>
  notices.attempt(async () => {
    topics.value = await ask(api.POST('/api/connections/{id}/topics', { params: { path: { id: props.connection } } }))
  })
const again = useIntervalFn(
  async () => {
    if (!(await read())) stop()
  },
  READ_EVERY,
  { immediate: false },
)
async function begin() {
  if (await read()) again.resume()
}
function stop() {
  again.pause()
  topics.value = undefined
  open.value = ''
}

// Whoever comes to make a device of a topic sees it at once.
if (props.topic) {
  search.value = open.value = props.topic
  void begin()
}

const shown = computed(() =>
  (topics.value ?? []).filter((t) => t.topic.toLowerCase().includes(search.value.toLowerCase())),
)
</script>

<template>
  <section>
    <div class="row">
      <h2>Topics</h2>
      <span class="space" />
      <InputText v-if="topics" v-model="search" size="small" placeholder="Search topics" aria-label="Search topics" />
      <Button v-if="!topics" size="small" severity="secondary" label="Watch what arrives" @click="begin" />
      <Button v-else size="small" severity="secondary" label="Stop watching" @click="stop" />
    </div>
    <p v-if="topics && !topics.length" class="soft">Nothing has arrived yet.</p>
    <ul v-if="topics">
      <li v-for="t in shown" :key="t.topic">
        <button class="plain topic" :aria-expanded="open === t.topic" @click="open = open === t.topic ? '' : t.topic">
          <span class="mono name">{{ t.topic }}</span>
          <span class="mono soft payload">{{ t.payload }}</span>
          <span class="mono soft">{{ t.count }}×</span>
        </button>
        <ComposeDevice
          v-if="open === t.topic"
          :fields="t.fields"
          :connection="connection"
          :topic="t.topic"
          :fits="t.fits"
          @done="open = ''"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  gap: var(--space-10);
  align-items: center;
}
.space {
  flex: 1;
}
ul {
  margin-top: var(--space-8);
}
li {
  border-top: 1px solid var(--rule);
}
.topic {
  display: grid;
  grid-template-columns: minmax(160px, auto) minmax(0, 1fr) auto;
  gap: var(--space-14);
  width: 100%;
  text-align: left;
  padding: var(--space-6) 0;
  font-size: var(--type-small);
  min-height: 34px;
}
.payload {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.topic:hover {
  background: var(--verdigris-wash);
}
</style>
