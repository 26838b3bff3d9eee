<script setup lang="ts">
import Button from 'primevue/button'
import MultiSelect from 'primevue/multiselect'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Daily, Light, Rule, Step } from '@/api/types'
import OwnLight from '@/components/sensor/OwnLight.vue'
import ModesPicker from '@/components/inputs/ModesPicker.vue'
import StateMark from '@/components/marks/StateMark.vue'
import DurationToken from '@/components/tokens/DurationToken.vue'
import MomentToken from '@/components/tokens/MomentToken.vue'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { broken } from '@/lib/ruleStanding'
import { join, propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** How the light of a room comes by itself while somebody is there: a sentence that becomes an ordinary rule. */
const props = defineProps<{ light: Light }>()
const home = useHome()
const notices = useNotices()

/** The rules that were made so, and others that hold a scene or a lamp of the light while something lasts. */
const rules = computed(() => {
  const own = new Set([...props.light.scenes.map((s) => s.scene), ...props.light.members.map((m) => m.device)])
  const holds = (steps: Step[] | undefined): boolean =>
    !!steps?.some((s) => (s.kind === 'hold' && own.has(s.scene ?? s.device ?? '')) || holds(s.then) || holds(s.else))
  return home.rules.filter((r) => r.whenever && holds(r.do))
})
const stands = (r: Rule) => {
  if (broken(r)) return 'has a problem'
  if (!r.enabled) return 'off'
  return r.state.phase === 'holding' || r.state.phase === 'ending' ? 'acts now' : 'waits'
}

const making = ref(false)
const withRole = (role: string) => propertyChoices(home.devices, home.rooms, (p) => p.role === role)
const eyes = computed(() => withRole('motion'))
const meters = computed(() => withRole('illuminance'))
const inRooms = (value: string) => props.light.rooms.includes(home.device(split(value)[0])?.room ?? '')
const NONE = ''
const FROM = [
  { value: 'off', title: 'all was off' },
  { value: 'any', title: 'whatever was on' },
]
const scenes = computed(() =>
  props.light.scenes.flatMap(({ scene }) => {
    const s = home.scene(scene)
    return s && !s.laid ? [{ value: s.id, title: s.title }] : []
  }),
)
const USUAL_LUX = 40
const USUAL_SECONDS = 480
const sensors = ref<string[]>([])
const dark = ref(NONE)
const below = ref(USUAL_LUX)
const from = ref('off')
const modes = ref<string[]>()
const scene = ref<string>()
const seconds = ref(USUAL_SECONDS)
const fade = ref(0)
/** Parts of the day in which another scene comes. */
const parts = ref<{ from: Daily; to: Daily; scene: string }[]>([])
const addPart = () =>
  parts.value.push({
    from: parts.value.at(-1)?.to ?? { anchor: 'clock', clock: '22:30' },
    to: { anchor: 'clock', clock: '06:30' },
    scene: scenes.value[1]?.value ?? scenes.value[0]!.value,
  })
function begin() {
  making.value = true
  sensors.value = eyes.value.map((c) => c.value).filter(inRooms)
  const near = meters.value.map((c) => c.value).filter(inRooms)
  dark.value = near.find((value) => metered(value)?.property.without) ?? near[0] ?? NONE
  scene.value = scenes.value[0]?.value
  parts.value = []
}
const at = (value: string) => {
  const [device, name] = split(value)
  return { device, name }
}
const now = computed(() => {
  const { device, name } = at(dark.value)
  return dark.value ? home.state(device, name)?.text : undefined
})
/** What measures the light, and whether it is to be looked at what the room's lamps give it. */
function metered(value: string) {
  const { device, name } = at(value)
  const of = home.device(device)
  const property = of?.description.properties.find((p) => p.name === name)
  return of && property && { device: of, property }
}
const meter = computed(() => metered(dark.value))
const looking = ref(false)
const make = () =>
  notices.attempt(async () => {
    const saved = await ask(
      api.POST('/api/lights/{id}/by-itself', {
        params: { path: { id: props.light.id } },
        body: {
          sensors: sensors.value.map(at),
          ...(dark.value && { dark: at(dark.value), below: below.value }),
          fromOff: from.value === 'off' || undefined,
          modes: modes.value,
          scene: scene.value!,
          parts: parts.value.length ? parts.value : undefined,
          seconds: seconds.value,
          fadeSeconds: fade.value || undefined,
        },
      }),
    )
    await home.arrived('rule', saved.id)
    making.value = false
    notices.done(`Rule ${props.light.title} by itself made.`, () =>
      ask(api.DELETE('/api/rules/{id}', { params: { path: { id: saved.id } } })),
    )
  })
</script>

<template>
  <section aria-label="By itself">
    <h2>By itself</h2>
    <ul v-if="rules.length">
      <li v-for="r in rules" :key="r.id">
        <StateMark :mark="broken(r) ? 'failed' : stands(r) === 'acts now' ? 'on' : 'off'" />
        <RouterLink class="named" :to="`/rules/${r.id}`">{{ r.title }}</RouterLink>
        <span class="soft">{{ stands(r) }}</span>
      </li>
    </ul>
    <p v-if="!making && !scenes.length" class="soft small">It needs a scene to come with.</p>
    <p v-else-if="!making">
      <button type="button" class="plain link" @click="begin">
        {{ rules.length ? 'Make another' : 'Let it come while somebody is there' }}
      </button>
    </p>
    <form v-else @submit.prevent="make">
      <p class="sentence">
        When somebody is there by
        <MultiSelect
          v-model="sensors"
          :options="eyes"
          option-value="value"
          option-label="title"
          display="chip"
          filter
          placeholder="choose what sees somebody"
          aria-label="What sees somebody"
        />
        <template v-if="meters.length">
          and it is darker than
          <NumberToken
            v-if="dark"
            :model-value="below"
            label="How dark"
            unit="lx"
            :minimum="0"
            :maximum="100000"
            @update:model-value="below = $event"
          />
          by
          <TokenPicker
            :model-value="dark"
            :choices="[{ value: NONE, title: 'nothing: always' }, ...meters]"
            label="What measures the light"
            @update:model-value="dark = $event"
          />
          <span v-if="now" class="soft">&#32;(now {{ now }})</span></template
        >, and
        <TokenPicker :model-value="from" :choices="FROM" label="From what" @update:model-value="from = $event" />, in
        <ModesPicker v-model="modes" label="Modes in which it comes" />: bring up
        <TokenPicker
          :model-value="scene"
          :choices="scenes"
          label="Scene that comes"
          @update:model-value="scene = $event"
        /><template v-for="(part, i) in parts" :key="i"
          >, but
          <TokenPicker
            :model-value="part.scene"
            :choices="scenes"
            :label="`Scene that comes in part ${i + 1} of the day`"
            @update:model-value="part.scene = $event"
          />
          between
          <MomentToken v-model="part.from" :label="`Beginning of part ${i + 1} of the day`" end />
          and
          <MomentToken v-model="part.to" :label="`End of part ${i + 1} of the day`" end />
          {{ ' ' }}
          <button
            type="button"
            class="plain soft"
            :aria-label="`Remove part ${i + 1} of the day`"
            title="Remove"
            @click="parts.splice(i, 1)"
          >
            ×
          </button></template
        >. Once all are clear for
        <DurationToken
          :model-value="seconds"
          label="How long all are clear"
          zero="a moment"
          @update:model-value="seconds = $event"
        />, what was before comes back
        <DurationToken
          :model-value="fade"
          label="Over how long it comes back"
          zero="at once"
          @update:model-value="fade = $event"
        />.
      </p>
      <p>
        <button type="button" class="plain link small" @click="addPart">Another scene in a part of the day</button>
      </p>
      <p class="soft small">
        A hand meanwhile leads until the room was empty. How dark it is counts only as somebody comes, so its own lamps
        do not put it out.
        <template v-if="meter && !meter.property.without">
          The sensor sees them, though:
          <button type="button" class="plain link" :aria-expanded="looking" @click="looking = !looking">
            what its lamps give it
          </button>
        </template>
      </p>
      <OwnLight
        v-if="looking && meter"
        :device="meter.device"
        :property="meter.property"
        @taken="((dark = join(meter.device.id, $event)), (looking = false))"
      />
      <p class="buttons">
        <Button type="submit" size="small" label="Make it so" :disabled="!sensors.length || !scene" />
        <Button size="small" severity="secondary" label="Cancel" @click="making = false" />
      </p>
    </form>
  </section>
</template>

<style scoped>
section {
  margin-top: var(--space-20);
}
ul {
  border-top: 1px solid var(--ink);
  margin-top: var(--space-6);
}
li {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: var(--space-10);
  align-items: center;
  min-height: 40px;
  border-bottom: 1px solid var(--rule);
}
.sentence {
  font-size: var(--type-lead);
  line-height: 2.2;
}
.buttons {
  margin-top: var(--space-8);
  display: flex;
  gap: var(--space-8);
}
.small {
  font-size: var(--type-small);
}
</style>
