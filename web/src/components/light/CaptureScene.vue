<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import MultiSelect from 'primevue/multiselect'
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Device } from '@/api/types'
import DeviceLamp from '@/instruments/DeviceLamp.vue'
import PageHead from '@/components/page/PageHead.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import SceneColorsChoice, { type InColors } from './SceneColorsChoice.vue'

/** Makes a scene: its name, of which rooms and lamps, and what else; as they are now, or with nothing in it yet. */
const home = useHome()
const notices = useNotices()
const router = useRouter()

const title = ref('')
onMounted(() => document.getElementById('scene-name')?.focus())
const chosen = ref(new Set<string>())
const others = ref<string[]>([])
const busy = ref(false)

const rooms = computed(() => {
  const all = [...home.rooms.map((r) => ({ id: r.id, title: r.title })), { id: '', title: 'In no room yet' }]
  const known = new Set(home.rooms.map((r) => r.id))
  return all
    .map((room) => ({
      ...room,
      lamps: home.devices.filter((d) => d.light && (known.has(d.room ?? '') ? d.room : '') === room.id),
    }))
    .filter((r) => r.lamps.length)
})
/** What else can be set, but no lamp and nothing that a scene never takes. */
const settable = computed(() =>
  home.devices
    .filter((d) => !d.light && d.captured)
    .map((d) => ({ id: d.id, title: [d.title, home.roomTitle(d.room)].filter(Boolean).join(', ') })),
)

const count = (lamps: Device[]) => lamps.filter((d) => chosen.value.has(d.id)).length
function choose(lamps: Device[], on: boolean) {
  const next = new Set(chosen.value)
  for (const d of lamps) {
    if (on) next.add(d.id)
    else next.delete(d.id)
  }
  chosen.value = next
}

/** In which colors the lamps are to be; as they are now where none were chosen. */
const colors = ref<InColors>()
/** What the scene is to set. */
async function present() {
  const [lamps, besides] = [[...chosen.value], others.value]
  if (!colors.value || !lamps.length)
    return ask(api.POST('/api/scenes/capture', { body: { devices: lamps, others: besides } }))
  const made = await ask(api.POST('/api/scenes/colors', { body: { devices: inOrder(lamps), ...colors.value } }))
  const rest = besides.length
    ? await ask(api.POST('/api/scenes/capture', { body: { devices: [], others: besides } }))
    : []
  return [...made.targets, ...rest]
}
/** Lamps as they stand on the page: so they get the colors. */
const inOrder = (ids: string[]) => rooms.value.flatMap((r) => r.lamps.map((d) => d.id)).filter((id) => ids.includes(id))

const make = (empty: boolean) =>
  notices.attempt(async () => {
    busy.value = true
    try {
      const targets = empty ? [] : await present()
      const saved = await ask(api.POST('/api/scenes', { body: { title: title.value.trim(), fadeSeconds: 1, targets } }))
      await home.arrived('scene', saved.id)
      await router.push(`/scenes/${saved.id}`)
      if (!empty) notices.done(colors.value ? 'Made of these colors. Try it, or apply it.' : 'Captured as it is now.')
    } finally {
      busy.value = false
    }
  })
const anything = computed(() => chosen.value.size + others.value.length > 0)
</script>

<template>
  <form @submit.prevent="title.trim() && anything && make(false)">
    <PageHead title="New scene">Arrange the real lights as you like them, then capture them here.</PageHead>
    <label class="name"
      ><span class="soft">Name</span
      ><InputText id="scene-name" v-model="title" fluid maxlength="120" placeholder="Reading, Film, All off …"
    /></label>
    <fieldset>
      <legend>Of which lamps</legend>
      <div v-for="r in rooms" :key="r.id" class="room">
        <label class="whole">
          <Checkbox
            binary
            :model-value="count(r.lamps) === r.lamps.length"
            :indeterminate="count(r.lamps) > 0 && count(r.lamps) < r.lamps.length"
            @update:model-value="choose(r.lamps, !!$event)"
          />
          <b>{{ r.title }}</b>
        </label>
        <span class="lamps">
          <span v-for="d in r.lamps" :key="d.id" class="lamp">
            <label>
              <Checkbox
                binary
                :model-value="chosen.has(d.id)"
                :aria-label="`Take ${d.title}`"
                @update:model-value="choose([d], !!$event)"
              />
              {{ d.title }}
            </label>
            <DeviceLamp :device="d" />
          </span>
        </span>
      </div>
      <p v-if="!rooms.length" class="soft">There are no lamps yet.</p>
    </fieldset>
    <SceneColorsChoice v-if="chosen.size" v-model="colors" />
    <div v-if="settable.length" class="else">
      <span class="soft">What else</span>
      <MultiSelect
        v-model="others"
        :options="settable"
        option-label="title"
        option-value="id"
        filter
        display="chip"
        placeholder="nothing else: shutters, heating, sound"
        aria-label="What else"
        fluid
      />
      <p class="soft small">Never taken: locks, announcements, and what only a hand may switch on.</p>
    </div>
    <p class="buttons">
      <Button type="submit" :label="colors ? 'Make it' : 'Capture'" :disabled="!title.trim() || !anything || busy" />
      <Button
        severity="secondary"
        label="Make it empty"
        title="With nothing in it yet"
        :disabled="!title.trim() || busy"
        @click="make(true)"
      />
      <span v-if="!title.trim()" class="soft small">Give it a name first.</span>
      <span v-else-if="!anything" class="soft small">Choose rooms or lamps, or make it empty.</span>
    </p>
  </form>
</template>

<style scoped>
form {
  max-width: 760px;
}
.name {
  display: block;
  margin: var(--space-16) 0 var(--space-20);
  font-size: var(--type-small);
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
}
legend {
  font-size: var(--type-small);
  font-weight: 650;
  color: var(--ink-soft);
  padding: 0 0 var(--space-6);
}
.room {
  display: grid;
  grid-template-columns: 170px minmax(0, 1fr);
  border-top: 1px solid var(--rule);
  align-items: center;
}
.room label {
  display: inline-flex;
  gap: var(--space-8);
  align-items: center;
  min-height: 38px;
  cursor: pointer;
}
.lamps {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--space-20);
}
.lamp {
  display: inline-flex;
  align-items: center;
}
.else {
  margin-top: var(--space-20);
  font-size: var(--type-small);
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--space-8);
  margin-top: var(--space-20);
}
.small {
  font-size: var(--type-small);
}
@media (max-width: 720px) {
  .room {
    grid-template-columns: minmax(0, 1fr);
    padding-bottom: var(--space-6);
  }
}
</style>
