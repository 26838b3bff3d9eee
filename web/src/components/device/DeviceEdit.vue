<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputNumber from 'primevue/inputnumber'
import InputText from 'primevue/inputtext'
import MultiSelect from 'primevue/multiselect'
import Select from 'primevue/select'
import Textarea from 'primevue/textarea'
import { watchDebounced } from '@vueuse/core'
import { computed, onBeforeUnmount, ref } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { Device, DeviceDocument } from '@/api/types'
import { canonical } from '@/lib/canonical'
import { documentOf } from '@/lib/documents'
import { useEdits } from '@/stores/edits'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import LabelPicker from '@/components/inputs/LabelPicker.vue'

type Policy = NonNullable<Device['agreement']>['policy']
const policies: { value: Policy; title: string }[] = [
  { value: 'believe', title: 'Believe it: somebody changed it there' },
  { value: 'setAgain', title: 'Set it again' },
  { value: 'ask', title: 'Ask me' },
]

const props = defineProps<{ device: Device }>()
const emit = defineEmits<{ done: [] }>()
const home = useHome()
const notices = useNotices()
const edits = useEdits()

const title = ref(props.device.title)
const room = ref(props.device.room ?? '')
const note = ref(props.device.note ?? '')
const labels = ref([...(props.device.labels ?? [])])
const attendedOnly = ref(props.device.attendedOnly ?? false)
const keptTo = ref([...(props.device.keptTo ?? [])])
const lamp = ref(props.device.lamp ?? false)
const policy = ref<Policy>(props.device.agreement?.policy ?? 'believe')
const tries = ref(props.device.agreement?.tries || 2)
const wrong = ref('')
const switches = computed(
  () => !dims.value && props.device.description.properties.some((p) => p.role === 'power' && p.writable),
)
const dims = computed(() => props.device.description.properties.some((p) => p.role === 'brightness' && p.writable))
const canStart = computed(() => props.device.description.properties.some((p) => p.writable))

/** Another device, whose name looks almost the same. */
const near = ref('')
const NAME_REST = 200
watchDebounced(
  title,
  async (name) => {
    const body = [{ id: props.device.id, title: name.trim() || undefined }]
    near.value = name.trim()
      ? ((await ask(api.POST('/api/devices/names', { body })).catch(() => []))[0]?.near ?? '')
      : ''
  },
  { debounce: NAME_REST },
)

/** The device as it was when the form was opened: what others change meanwhile stays as they made it. */
const before = documentOf('device', props.device)

/** The device as the form has it. */
const edited = (): DeviceDocument => ({
  title: title.value.trim(),
  room: room.value || undefined,
  note: note.value || undefined,
  labels: labels.value.length ? labels.value : undefined,
  attendedOnly: attendedOnly.value || undefined,
  keptTo: keptTo.value.length ? keptTo.value : undefined,
  lamp: lamp.value || undefined,
  agreement:
    policy.value === 'believe'
      ? undefined
      : { policy: policy.value, tries: policy.value === 'setAgain' ? tries.value : undefined },
})

let saved = false
// What was typed is kept when the form is left, however that is.
onBeforeUnmount(() => {
  if (!saved && title.value.trim() && canonical(edited()) !== canonical(before)) void notices.attempt(keep)
})
async function keep() {
  const { id } = props.device
  const after = edited()
  await edits.now('device', id, before, after)
  saved = true
  notices.done(`${after.title} saved.`, () => edits.now('device', id, after, before))
}
async function save() {
  try {
    await keep()
    emit('done')
  } catch (error) {
    wrong.value = error instanceof Problem ? (error.places[0]?.message ?? error.message) : String(error)
  }
}
</script>

<template>
  <form class="edit" @submit.prevent="save">
    <div>
      <label
        ><span>Name</span><InputText v-model="title" fluid :invalid="!!wrong" autofocus aria-describedby="name-near"
      /></label>
      <span id="name-near" class="near" role="status">{{ near && `Easily confused with ${near}` }}</span>
    </div>
    <label>
      <span>Room</span>
      <Select
        v-model="room"
        :options="home.rooms"
        placeholder="no room yet"
        show-clear
        option-label="title"
        option-value="id"
        aria-label="Room"
        fluid
      />
    </label>
    <label class="wide"
      ><span>Note</span
      ><Textarea v-model="note" rows="2" fluid placeholder="Where it sits, when its battery was put in …"
    /></label>
    <div class="wide">
      <span>Labels</span>
      <LabelPicker
        v-model="labels"
        :known="home.devices.flatMap((d) => d.labels ?? [])"
        label="Labels"
        input-id="device-labels"
      />
    </div>
    <label v-if="switches" class="wide attended">
      <Checkbox v-model="lamp" binary input-id="feeds-lamp" />
      <span>
        <b>It feeds a lamp</b>
        <span class="soft">It then stands with the lamps of its room, in Today and where scenes are captured.</span>
      </span>
    </label>
    <label v-if="canStart" class="wide attended">
      <Checkbox v-model="attendedOnly" binary input-id="attended-only" />
      <span>
        <b>Attended only</b>
        <span class="soft">
          Only a hand switches it on: no rule, schedule, scene or program does, unless a step says so. For heaters,
          kilns, irons. Switching off is for everybody.
        </span>
      </span>
    </label>
    <label v-if="canStart && (home.people.length || keptTo.length)" class="wide">
      <span>Set going or unlocked by</span>
      <MultiSelect
        v-model="keptTo"
        :options="home.people"
        option-value="id"
        option-label="title"
        display="chip"
        placeholder="everybody"
        aria-label="Set going or unlocked by"
        fluid
      />
      <small class="soft">Owners always may. Rules and schedules go on as they do.</small>
    </label>
    <div v-if="canStart" class="wide agreement">
      <label>
        <span>When it is not as the hub left it</span>
        <Select
          v-model="policy"
          :options="policies"
          option-value="value"
          option-label="title"
          aria-label="When it is not as the hub left it"
          fluid
        />
      </label>
      <label v-if="policy === 'setAgain'">
        <span>Tries, before you are told</span>
        <InputNumber v-model="tries" :min="1" :max="10" show-buttons input-id="tries" aria-label="Tries" />
      </label>
      <p v-if="policy === 'setAgain'" class="soft small">A switch at the wall is set back, too.</p>
    </div>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div class="wide"><Button type="submit" label="Save" :disabled="!title.trim()" /></div>
  </form>
</template>

<style scoped>
.near {
  color: var(--ochre);
  font-size: var(--type-small);
}
.edit {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--space-12) var(--space-16);
  padding: var(--space-14) 0;
  border-bottom: 1px solid var(--rule);
}
label span:first-child {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.small {
  font-size: var(--type-small);
  display: flex;
  gap: var(--space-12);
}
.agreement {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-12) var(--space-16);
  align-items: end;
}
.agreement label:first-child {
  flex: 1;
  min-width: 280px;
}
.attended {
  display: flex;
  gap: var(--space-10);
}
.attended b {
  display: block;
  font-weight: 600;
  color: var(--ink);
}
.wide {
  grid-column: 1 / 3;
}
.wrong {
  grid-column: 1 / 3;
  color: var(--ember);
}
</style>
