<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import type { ProfileCheck, Tried } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import DocumentEditor from '@/components/documents/DocumentEditor.vue'

/** The text of a profile, checked while it is typed, tried against a found device, and saved. */
const text = defineModel<string>({ required: true })
const props = defineProps<{ before: string }>()
const emit = defineEmits<{ saved: [string] }>()
const home = useHome()
const notices = useNotices()

const CHECK_AFTER = 250
const check = ref<ProfileCheck>()
const wrong = ref('')
watchDebounced(
  text,
  async () => {
    try {
      check.value = await ask(api.POST('/api/profiles/check', { body: { document: text.value } }))
      wrong.value = ''
    } catch (error) {
      wrong.value = reasonOf(error)
    }
  },
  { immediate: true, debounce: CHECK_AFTER },
)
const problems = computed(() => check.value?.problems ?? [])
const changed = computed(() => text.value !== props.before)
const touched = computed(() => check.value?.touches.filter((t) => t.kind === 'device') ?? [])
const users = computed(() => check.value?.touches.filter((t) => t.kind !== 'device') ?? [])

const candidates = computed(() => {
  const model = check.value?.model
  const all = home.found.devices.map((d) => ({
    id: `${d.connection}\u0000${d.hardware}`,
    title: d.device ? `${home.device(d.device)?.title ?? d.label}` : d.label,
    fits: d.model === model,
  }))
  return [...all.filter((d) => d.fits), ...all.filter((d) => !d.fits)]
})
const against = ref('')
const tried = ref<Tried>()
const trying = ref(false)
watch(
  candidates,
  (list) => {
    if (!against.value && list[0]?.fits) against.value = list[0].id
  },
  { immediate: true },
)
async function tryIt() {
  const [connection = '', hardware = ''] = against.value.split('\u0000')
  trying.value = true
  tried.value = undefined
  await notices.attempt(async () => {
    tried.value = await ask(api.POST('/api/profiles/try', { body: { document: text.value, connection, hardware } }))
  })
  trying.value = false
}
const save = () =>
  notices.attempt(async () => {
    const { id } = await ask(api.POST('/api/profiles', { body: { document: text.value } }))
    notices.done(`The profile of ${id} is in use.`)
    emit('saved', id)
  })
</script>

<template>
  <DocumentEditor v-model="text" :marks="problems" label="Text of the profile" />
  <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  <ul v-else-if="problems.length" class="problems" role="alert">
    <li v-for="(p, i) in problems" :key="i" class="wrong">
      <span class="mono">line {{ p.line }}</span> {{ p.message }}
    </li>
  </ul>
  <p v-else-if="check" class="good">
    Nothing is wrong with it.
    <template v-if="changed && touched.length">
      Saving changes
      <template v-for="(t, i) in touched.slice(0, 5)" :key="t.id"
        >{{ i ? ', ' : '' }}<RouterLink class="link" :to="`/devices/${t.id}`">{{ t.title }}</RouterLink></template
      ><template v-if="touched.length > 5"> and {{ touched.length - 5 }} more</template
      ><template v-if="users.length">, which {{ users.map((u) => u.title).join(', ') }} use</template>.
    </template>
  </p>
  <p v-if="changed && check?.lost.length" class="wrong">
    They would no longer have: {{ check.lost.join(', ') }}. Rules that use these will say so.
  </p>
  <div class="row">
    <Button label="Save and use" :disabled="!!problems.length || !check || !changed" @click="save" />
    <span class="space" />
    <Select
      v-model="against"
      :options="candidates"
      option-label="title"
      option-value="id"
      placeholder="a found device"
      filter
      aria-label="Device to try it against"
    />
    <Button
      severity="secondary"
      :label="trying ? 'Trying …' : 'Try it'"
      :disabled="!against || !!problems.length || trying"
      @click="tryIt"
    />
  </div>
  <section v-if="tried" class="tried" aria-live="polite">
    <p v-for="f in tried.faults" :key="f" class="wrong">{{ f }}</p>
    <dl v-if="tried.readings.length">
      <div v-for="r in tried.readings" :key="r.name">
        <dt>{{ r.title }}</dt>
        <dd class="mono">{{ r.text }}</dd>
      </div>
    </dl>
    <p v-if="tried.silent.length" class="soft">It said nothing about: {{ tried.silent.join(', ') }}.</p>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  gap: var(--space-10);
  align-items: center;
  margin-top: var(--space-12);
}
.space {
  flex: 1;
}
.problems {
  margin-top: var(--space-8);
}
.wrong {
  color: var(--ember);
  margin-top: var(--space-6);
}
.good {
  color: var(--ink-soft);
  margin-top: var(--space-8);
}
.tried {
  margin-top: var(--space-12);
  border-left: 3px solid var(--verdigris);
  background: var(--sheet);
  padding: var(--space-10) var(--space-14);
}
dl {
  margin: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: var(--space-10);
}
dt {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
dd {
  margin: 0;
  font-size: var(--type-head);
}
</style>
