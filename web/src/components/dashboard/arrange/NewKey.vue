<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { Step } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Makes a key of one's own, a rule that is started by hand: it says something, tells the household something, or is empty yet. */
const emit = defineEmits<{ made: [rule: string] }>()
const home = useHome()
const notices = useNotices()

const open = ref(false)
const title = ref('')
const text = ref('')
const does = ref('notify')
const speaker = ref<string>()
const failed = ref('')
const speakers = computed(() => propertyChoices(home.everything, home.rooms, (p) => p.role === 'speech'))
const ways = computed(() => [
  { value: 'notify', title: 'tells the household' },
  ...(speakers.value.length ? [{ value: 'say', title: 'says' }] : []),
  { value: '', title: 'does what I write in its rule' },
])
function step(): Step[] {
  const words = text.value.trim()
  if (does.value === 'notify') return [{ kind: 'notify', text: words }]
  if (does.value !== 'say') return []
  const [device, property] = split(speaker.value ?? speakers.value[0]!.value)
  return [{ kind: 'say', device, property, text: words }]
}
async function make() {
  failed.value = ''
  if (!title.value.trim()) return void (failed.value = 'Give the key a name.')
  if (does.value && !text.value.trim()) return void (failed.value = 'Say what it tells.')
  try {
    const saved = await ask(
      api.POST('/api/rules', { body: { title: title.value.trim(), enabled: true, when: [], do: step() } }),
    )
    await home.arrived('rule', saved.id)
    emit('made', saved.id)
    if (!does.value) notices.done(`“${title.value.trim()}” does nothing yet: write its steps under Rules.`)
    open.value = false
    title.value = text.value = ''
  } catch (error) {
    failed.value = reasonOf(error)
  }
}
</script>

<template>
  <button v-if="!open" type="button" class="plain link" @click="open = true">Make a new key …</button>
  <form v-else class="new" aria-label="A new key" @submit.prevent="make">
    <input v-model="title" maxlength="80" placeholder="Name, such as Call to the table" aria-label="Name of the key" />
    <p>It <TokenPicker v-model="does" :choices="ways" label="What the key does" /></p>
    <TokenPicker
      v-if="does === 'say'"
      v-model="speaker"
      :choices="speakers"
      label="Where it is said"
      :empty="speakers[0]?.title"
    />
    <input v-if="does" v-model="text" maxlength="300" placeholder="Supper is ready" aria-label="What it tells" />
    <p v-if="failed" class="failed" role="alert">{{ failed }}</p>
    <p class="keys">
      <Button size="small" type="submit" label="Make it" />
      <Button size="small" severity="secondary" label="Cancel" @click="open = false" />
    </p>
  </form>
</template>

<style scoped>
.new {
  display: grid;
  gap: var(--space-6);
  width: 100%;
  padding: var(--space-8) 0 0 var(--space-10);
  border-left: 2px solid var(--rule);
}
p {
  margin: 0;
}
input {
  width: 100%;
  padding: var(--space-6) var(--space-8);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  background: var(--sheet);
}
.keys {
  display: flex;
  gap: var(--space-8);
}
.failed {
  color: var(--ember);
  font-size: var(--type-small);
}
</style>
