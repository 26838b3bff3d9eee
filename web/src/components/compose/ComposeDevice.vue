<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Problem } from '@/api/client'
import type { Composed, Field, Fitting } from '@/api/types'
import { draftOf, pickedOf, type ValueDraft } from '@/lib/composing'
import { goOnWith, takingIn } from '@/lib/takingIn'
import { useNotices } from '@/stores/notices'
import TakenIn from './TakenIn.vue'
import ValueEdit from './ValueEdit.vue'

/** Makes a device of the fields of a payload on a topic: which count, what they mean, and how they are set. */
const props = defineProps<{ fields: Field[]; connection: string; topic: string; fits?: Fitting[] }>()
const emit = defineEmits<{ done: [] }>()
const notices = useNotices()
const router = useRouter()

const drafts = reactive(new Map<string, ValueDraft>())
watch(
  () => props.fields,
  (fields) => {
    for (const f of fields) if (!drafts.has(f.pointer)) drafts.set(f.pointer, likely(f))
  },
  { immediate: true },
)
/** A draft to begin with: what has a known meaning counts, and is set where most devices listen. */
function likely(f: Field): ValueDraft {
  const draft = draftOf(f)
  return { ...draft, on: !!f.role || f.type === 'boolean', set: { ...draft.set, topic: `${props.topic}/set` } }
}
const title = ref('')
const taking = ref(takingIn())
const problem = ref<Problem>()
const chosen = computed(() => props.fields.map((f) => drafts.get(f.pointer)!).filter((d) => d.on))
const wrongOf = (draft: ValueDraft) => {
  const at = `fields[${chosen.value.indexOf(draft)}]`
  return problem.value?.places.find((p) => p.location.includes(at))?.message
}

const written = (draft: ValueDraft, value: boolean | number | string) =>
  typeof value === 'boolean' ? (value ? draft.yes || 'true' : draft.no || 'false') : String(value)
const attempt = (draft: ValueDraft, value: boolean | number | string) =>
  notices.attempt(async () => {
    const payload = (draft.set.body || '{value}').replaceAll('{value}', written(draft, value))
    await ask(
      api.POST('/api/connections/{id}/say', {
        params: { path: { id: props.connection } },
        body: { topic: draft.set.topic, payload },
      }),
    )
    notices.done(`${payload} was sent to ${draft.set.topic}.`)
  })

async function make(how: Pick<Composed, 'fields' | 'profile'>) {
  try {
    const made = await ask(
      api.POST('/api/composed', {
        body: { title: title.value.trim(), connection: props.connection, topic: props.topic, ...how },
      }),
    )
    const next = await goOnWith(made, taking.value)
    if (taking.value.taken) await router.push(next)
    else emit('done')
  } catch (error) {
    problem.value = error instanceof Problem ? error : new Problem(0, String(error))
  }
}
</script>

<template>
  <form class="compose" @submit.prevent="make({ fields: chosen.map((d) => pickedOf('topic', d)) })">
    <p class="row">
      <InputText v-model="title" placeholder="Name of the device" aria-label="Name of the device" />
      <TakenIn v-model="taking" />
    </p>
    <p v-if="fits?.length" class="row small">
      Such a device was made before:
      <Button
        v-for="f in fits"
        :key="f.model"
        type="button"
        size="small"
        severity="secondary"
        :label="`Another like ${f.title}`"
        :disabled="!title.trim()"
        @click="make({ profile: f.model })"
      />
    </p>
    <p class="soft small">Tick what counts, and say what it means. A profile is kept of it, for others of its kind.</p>
    <ul>
      <li v-for="f in fields" :key="f.pointer">
        <label class="pick">
          <Checkbox v-model="drafts.get(f.pointer)!.on" binary :aria-label="`Use ${f.pointer || 'the payload'}`" />
          <span class="mono">{{ f.pointer || 'the payload' }}</span>
          <b class="mono found">{{ f.value }}</b>
        </label>
        <ValueEdit
          v-if="drafts.get(f.pointer)!.on"
          :model-value="drafts.get(f.pointer)!"
          way="topic"
          :wrong="wrongOf(drafts.get(f.pointer)!)"
          @attempt="attempt(drafts.get(f.pointer)!, $event)"
        />
      </li>
    </ul>
    <p class="row">
      <Button type="submit" label="Make a device of it" :disabled="!title.trim() || !chosen.length" />
    </p>
    <p v-if="problem" class="wrong" role="alert">{{ problem.message }}</p>
  </form>
</template>

<style scoped>
.compose {
  border-left: 3px solid var(--verdigris);
  background: var(--sheet);
  padding: var(--space-10) var(--space-14);
  margin: var(--space-8) 0;
}
.small {
  font-size: var(--type-small);
}
li {
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
}
.pick {
  display: flex;
  gap: var(--space-10);
  align-items: center;
  min-height: 32px;
}
.found {
  margin-left: auto;
  font-weight: 500;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
  margin-top: var(--space-6);
}
.wrong {
  color: var(--ember);
}
</style>
