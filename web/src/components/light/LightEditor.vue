<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { LampOfRoom, Light, LightDocument, LightVerb, Value } from '@/api/types'
import DefinitionEditor from '@/components/documents/DefinitionEditor.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import NoteField from '@/components/documents/NoteField.vue'
import UsedBy from '@/components/household/UsedBy.vue'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import DeviceLamp from '@/instruments/DeviceLamp.vue'
import PropertyScale from '@/instruments/PropertyScale.vue'
import RoomLightFace from '@/instruments/RoomLightFace.vue'
import { colorOf } from '@/instruments/useLamp'
import { act } from '@/lib/act'
import { useEditing } from '@/lib/editing'
import { calledIn } from '@/lib/inRoom'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import LampsOf from './LampsOf.vue'
import LightCurve from './LightCurve.vue'
import LightByItself from './LightByItself.vue'
import LightMoving from './LightMoving.vue'
import LightScenes from './LightScenes.vue'

/** The light of a room: all its lamps at once, each by itself, and its scenes in their order. */
const props = defineProps<{ light: Light }>()
const home = useHome()
const notices = useNotices()
const { edit, copy, set, remove } = useEditing('light', () => props.light, '/lights')

const whole = (verb: Exclude<LightVerb, ''>, value?: Value) =>
  notices.attempt(() => act.light(props.light.id, verb, value))
const STEP = 10
const does: Record<LampOfRoom['does'], string> = {
  switches: 'on or off',
  dims: 'dims',
  white: 'tunable white',
  color: 'color',
}
const lamps = computed(() =>
  props.light.members
    .flatMap((m) => {
      const device = home.device(m.device)
      return device ? [{ ...m, device, id: m.device }] : []
    })
    .map((m) => ({
      ...m,
      property: m.device.description.properties.find((p) => p.name === m.property),
      state: m.device.states.find((s) => s.name === m.property),
    }))
    .sort((a, b) => a.device.title.localeCompare(b.device.title)),
)
/** What a lamp is called within its room. */
const called = (title: string) =>
  calledIn(
    props.light.rooms.map((id) => home.roomTitle(id)),
    title,
  )
const circuit = (id: string, part: NonNullable<LightDocument['circuits']>[string]) =>
  set({ circuits: { ...copy.value?.circuits, [id]: { ...copy.value?.circuits?.[id], ...part } } })
const tones = [
  { value: 'room', title: 'the room’s tone' },
  { value: 'own', title: 'its own tone' },
]

// What it has.
const rooms = computed(() => home.rooms.map((r) => ({ id: r.id, title: r.title })))
const besides = computed(() =>
  home.devices
    .filter((d) => d.light && !copy.value?.rooms.includes(d.room ?? ''))
    .map((d) => ({ id: d.id, title: [d.title, home.roomTitle(d.room)].filter(Boolean).join(', ') })),
)
const leftOut = computed(() => (copy.value?.without ?? []).flatMap((id) => home.device(id) ?? []))
const leave = (id: string) =>
  copy.value?.lamps?.includes(id)
    ? set({ lamps: copy.value.lamps.filter((x) => x !== id) })
    : set({ without: [...(copy.value?.without ?? []), id] })
const takeIn = (id: string) => set({ without: copy.value?.without?.filter((x) => x !== id) })

/** The light that moves it now. */
const moved = computed(() => home.sequences.find((s) => s.state.running && s.effect?.lights?.includes(props.light.id)))

const state = computed(() => {
  const { on, members, differs, since } = props.light
  if (!members.length) return 'It has no lamps yet'
  if (moved.value) return `${moved.value.title} · since ${home.times.clock(moved.value.state.since!)}`
  const scene = home.scene(props.light.scene)
  if (!scene) return on ? `${on} of ${members.length} on` : 'All off'
  const when = since ? ` · since ${home.times.clock(since)}` : ''
  if (!differs.length) return `${scene.title}${when}`
  if (differs.length >= members.length) return `${scene.title}${when}, changed since`
  const changed = differs.map((id) => called(home.device(id)?.title ?? 'a removed device')).join(', ')
  return `${scene.title}${when}, changed since: ${changed}`
})
</script>

<template>
  <DefinitionEditor
    v-if="copy"
    :edit="edit"
    :title="copy.title"
    label="Name of the light"
    @update:title="set({ title: $event })"
    @remove="remove"
  >
    <template #state>{{ state }}</template>
    <div class="columns">
      <div>
        <div class="whole">
          <RoomLightFace :light="light" size="page" />
          <div class="buttons" role="group" aria-label="The whole light">
            <Button size="small" severity="secondary" label="All off" @click="whole('off')" />
            <Button size="small" severity="secondary" label="Full" @click="whole('full')" />
            <Button size="small" severity="secondary" label="− darker" @click="whole('levelBy', -STEP)" />
            <Button size="small" severity="secondary" label="+ brighter" @click="whole('levelBy', STEP)" />
            <template v-if="lamps.some((l) => l.does === 'white' || l.does === 'color')">
              <Button size="small" severity="secondary" label="Warmer" @click="whole('whiteBy', -1)" />
              <Button size="small" severity="secondary" label="Cooler" @click="whole('whiteBy', 1)" />
            </template>
          </div>
        </div>
        <ul class="lamps" aria-label="Its lamps">
          <li v-for="l in lamps" :key="l.id">
            <DeviceLamp :device="l.device" />
            <span>
              <RouterLink class="named" :to="`/devices/${l.id}`">{{ called(l.device.title) }}</RouterLink>
              <small class="soft">
                {{ does[l.does] }}<template v-if="l.device.silent"> · silent</template>
                <template v-if="l.does === 'switches'">
                  · joins from
                  <NumberToken
                    :model-value="l.joins"
                    :label="`Level from which ${l.device.title} joins`"
                    unit="%"
                    :minimum="1"
                    :maximum="100"
                    @update:model-value="circuit(l.id, { joinsAbove: $event })"
                  />
                  on
                </template>
                <template v-else-if="l.does !== 'dims'">
                  ·
                  <TokenPicker
                    :model-value="l.ownTone ? 'own' : 'room'"
                    :choices="tones"
                    :label="`Tone of ${l.device.title}`"
                    @update:model-value="circuit(l.id, { ownTone: $event === 'own' || undefined })"
                  />
                </template>
                <template v-if="l.on && l.curve && !l.follows && !moved">
                  · off its day curve
                  <button
                    type="button"
                    class="plain link"
                    :aria-label="`${l.device.title} follows its day curve again`"
                    @click="notices.attempt(() => act.write(l.id, l.property!.name, true))"
                  >
                    Follow again
                  </button>
                </template>
              </small>
            </span>
            <PropertyScale
              v-if="l.property?.type === 'number'"
              :device="l.id"
              :property="l.property"
              :state="l.state"
              :silent="l.device.silent"
              :label="`${l.device.title}, brightness`"
              :color="colorOf(l.device)"
              size="row"
            />
            <span v-else />
            <span class="mono figure">
              <template v-if="l.on">{{ Math.round(l.level) }}<small>%</small></template
              ><span v-else class="soft">off</span>
              <small v-if="l.on && l.kelvin" class="soft kelvin">{{ Math.round(l.kelvin) }} K</small>
            </span>
            <button
              type="button"
              class="plain soft"
              :aria-label="`Leave ${l.device.title} out`"
              title="Leave it out"
              @click="leave(l.id)"
            >
              ×
            </button>
          </li>
        </ul>
        <p v-if="leftOut.length" class="small soft">
          Left out:
          <button
            v-for="d in leftOut"
            :key="d.id"
            type="button"
            class="plain link"
            :aria-label="`Take ${d.title} in again`"
            @click="takeIn(d.id)"
          >
            {{ d.title }} +
          </button>
        </p>
        <LightByItself :light="light" />
        <LightCurve
          :light="light"
          :curve="copy.curve"
          :circuits="copy.circuits"
          :called="called"
          :moved="!!moved"
          @change="set({ curve: $event })"
          @circuit="(id: string, curve?: string) => circuit(id, { curve })"
          @follow="whole('follow')"
        />
        <LampsOf
          class="has"
          :of="copy.rooms"
          :of-choices="rooms"
          of-label="Rooms whose lamps it has"
          of-empty="no room"
          :besides="copy.lamps ?? []"
          :besides-choices="besides"
          besides-label="Lamps that it has besides"
          @of="set({ rooms: $event })"
          @besides="set({ lamps: $event })"
        />
      </div>
      <div>
        <LightScenes :light="light" :scenes="copy.scenes" @change="set({ scenes: $event })" />
        <LightMoving :light="light" />
      </div>
    </div>
    <NoteField :model-value="copy.note" @update:model-value="set({ note: $event })" />
    <UsedBy :uses="light.usedBy" />
    <EarlierVersions :id="light.id" kind="light" :revision="light.revision" />
  </DefinitionEditor>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(220px, 280px);
  gap: var(--space-34);
  margin-top: var(--space-16);
}
.whole {
  display: grid;
  gap: var(--space-10);
  padding-bottom: var(--space-14);
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6);
}
.lamps {
  border-top: 1px solid var(--ink);
}
.lamps li {
  display: grid;
  grid-template-columns: auto minmax(150px, 1.2fr) minmax(90px, 1fr) 76px auto;
  gap: var(--space-10);
  align-items: center;
  min-height: 58px;
  padding: var(--space-6) 0;
  border-bottom: 1px solid var(--rule);
}
.lamps small {
  display: block;
  font-size: var(--type-note);
}
.figure {
  text-align: right;
  font-size: var(--type-head);
}
.figure small {
  display: inline;
  margin-left: 0.2em;
}
.figure .kelvin {
  display: block;
}
.has {
  margin-top: var(--space-14);
  font-size: var(--type-small);
}
.small {
  font-size: var(--type-small);
}
@media (max-width: 1100px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 720px) {
  .lamps li {
    grid-template-columns: auto minmax(0, 1fr) auto auto;
    padding: var(--space-6) 0;
  }
  .lamps li > :nth-child(3) {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
