<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive, ref, watch } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { Composed, Field, Fitting } from '@/api/types'
import { rolesFor, suggestedTitle, titleOf } from '@/lib/roles'
import { useNotices } from '@/stores/notices'

/** Makes a device of the fields of a payload: which count, what they mean, and how they are set. */
const props = defineProps<{
  fields: Field[]
  connection?: string
  topic?: string
  address?: string
  fits?: Fitting[]
}>()
const emit = defineEmits<{ done: [] }>()
const notices = useNotices()

interface Picked {
  on: boolean
  title: string
  role: string
  factor: string
  setTopic: string
  setBody: string
}
const picks = reactive(new Map<string, Picked>())
watch(
  () => props.fields,
  (fields) => {
    for (const f of fields)
      if (!picks.has(f.pointer))
        picks.set(f.pointer, {
          on: false,
          title: suggestedTitle(f),
          role: f.role ?? '',
          factor: '',
          setTopic: '',
          setBody: '',
        })
  },
  { immediate: true },
)
const title = ref('')
const seconds = ref('30')
const wrong = ref('')
const chosen = computed(() => props.fields.filter((f) => picks.get(f.pointer)?.on))
const pick = (f: Field) => picks.get(f.pointer)!

async function tryIt(f: Field, value: string) {
  const { setTopic, setBody } = pick(f)
  await notices.attempt(async () => {
    const payload = (setBody || '{value}').replaceAll('{value}', value)
    await ask(
      api.POST('/api/connections/{id}/say', {
        params: { path: { id: props.connection ?? '' } },
        body: { topic: setTopic, payload },
      }),
    )
    notices.done(`${payload} was sent to ${setTopic}.`)
  })
}

/** A word that a payload writes for yes or no. */
const words = (f: Field) =>
  /^on$|^off$/i.test(f.value) ? (f.value === f.value.toUpperCase() ? ['OFF', 'ON'] : ['off', 'on']) : undefined

async function make(how: Pick<Composed, 'fields' | 'profile' | 'pollSeconds'>) {
  try {
    const made = await ask(
      api.POST('/api/composed', {
        body: {
          title: title.value.trim(),
          connection: props.topic ? props.connection : undefined,
          topic: props.topic,
          address: props.address,
          ...how,
        },
      }),
    )
    notices.done(`${made.title} is among the found devices.`)
    emit('done')
  } catch (error) {
    wrong.value = error instanceof Problem ? error.message : String(error)
  }
}

const makeOf = (fit: Fitting) => make({ profile: fit.model })
const makeNew = () =>
  make({
    pollSeconds: props.address ? Number(seconds.value) || 30 : undefined,
    fields: chosen.value.map((f) => {
      const p = pick(f)
      const role = rolesFor(f.type).find((r) => r.value === p.role)
      return {
        pointer: f.pointer,
        title: p.title.trim() || titleOf(f.pointer),
        type: f.type,
        role: role?.value || undefined,
        unit: role?.unit || undefined,
        factor: Number(p.factor) || undefined,
        setTopic: p.setTopic.trim() || undefined,
        setBody: p.setBody.trim() || undefined,
        words: words(f),
      }
    }),
  })
</script>

<template>
  <form class="compose" @submit.prevent="makeNew">
    <p class="row">
      <InputText v-model="title" placeholder="Name of the device" aria-label="Name of the device" />
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
        @click="makeOf(f)"
      />
    </p>
    <p class="soft small">Tick what counts, and say what it means. A profile is kept of it, for others of its kind.</p>
    <ul>
      <li v-for="f in fields" :key="f.pointer">
        <label class="pick">
          <Checkbox v-model="pick(f).on" binary :aria-label="`Use ${f.pointer || 'the payload'}`" />
          <span class="mono">{{ f.pointer || 'the payload' }}</span>
          <b class="mono value">{{ f.value }}</b>
        </label>
        <div v-if="pick(f).on" class="means">
          <InputText v-model="pick(f).title" size="small" :aria-label="`Name of ${f.pointer || 'the payload'}`" />
          <Select
            v-model="pick(f).role"
            size="small"
            :options="rolesFor(f.type)"
            option-label="title"
            option-value="value"
            :aria-label="`Meaning of ${f.pointer || 'the payload'}`"
          />
          <InputText
            v-if="f.type === 'number'"
            v-model="pick(f).factor"
            size="small"
            placeholder="times 1"
            :aria-label="`Factor for ${f.pointer || 'the payload'}`"
          />
          <template v-if="topic">
            <InputText
              v-model="pick(f).setTopic"
              size="small"
              placeholder="topic that sets it, if any"
              :aria-label="`Topic that sets ${f.pointer || 'the payload'}`"
            />
            <InputText
              v-if="pick(f).setTopic"
              v-model="pick(f).setBody"
              size="small"
              placeholder="{value}"
              :aria-label="`Message that sets ${f.pointer || 'the payload'}`"
            />
            <span v-if="pick(f).setTopic && f.type === 'boolean'" class="row">
              <Button
                type="button"
                size="small"
                severity="secondary"
                label="Try on"
                @click="tryIt(f, words(f)?.[1] ?? 'true')"
              />
              <Button
                type="button"
                size="small"
                severity="secondary"
                label="Try off"
                @click="tryIt(f, words(f)?.[0] ?? 'false')"
              />
            </span>
          </template>
        </div>
      </li>
    </ul>
    <p class="row">
      <label v-if="address" class="row small"
        >read every
        <InputText v-model="seconds" size="small" class="seconds" aria-label="Seconds between readings" />
        s</label
      >
      <Button type="submit" label="Make a device of it" :disabled="!title.trim() || !chosen.length" />
    </p>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  </form>
</template>

<style scoped>
.compose {
  border-left: 3px solid var(--verdigris);
  background: var(--sheet);
  padding: 10px 14px;
  margin: 8px 0;
}
.small {
  font-size: 13px;
}
li {
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}
.pick {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 32px;
}
.value {
  margin-left: auto;
  font-weight: 500;
}
.means,
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 6px;
}
.seconds {
  width: 60px;
}
.wrong {
  color: var(--ember);
}
</style>
