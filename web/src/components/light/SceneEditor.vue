<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { Scene, Target } from '@/api/types'
import { act } from '@/lib/act'
import { useEditing } from '@/lib/editing'
import { fadeOf, withFade, withFades } from '@/lib/scenes'
import { join, propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import DefinitionEditor from '@/components/documents/DefinitionEditor.vue'
import ColorChoice from '@/components/dashboard/arrange/ColorChoice.vue'
import IconPicker from '@/components/dashboard/arrange/IconPicker.vue'
import ModesPicker from '@/components/inputs/ModesPicker.vue'
import NoteField from '@/components/documents/NoteField.vue'
import LampPendant from '@/instruments/LampPendant.vue'
import DurationToken from '@/components/tokens/DurationToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import HiddenChoice from './HiddenChoice.vue'
import SceneMixing from './SceneMixing.vue'
import SceneValue from './SceneValue.vue'

const props = defineProps<{ scene: Scene }>()
const home = useHome()
const notices = useNotices()

const { edit, copy, set, remove } = useEditing('scene', () => props.scene, '/scenes')
const { saving } = edit
const trying = ref(false)

const groups = computed(() => {
  const order = [...home.rooms.map((r) => ({ id: r.id, title: r.title })), { id: '', title: 'No room yet' }]
  return order
    .map((room) => ({
      ...room,
      targets: (copy.value?.targets ?? []).filter((t) => (home.device(t.device)?.room ?? '') === room.id),
    }))
    .filter((g) => g.targets.length)
})
const missing = computed(() => {
  const there = new Set(copy.value?.targets.map((t) => join(t.device, t.property)))
  return propertyChoices(home.devices, home.rooms, (p) => p.writable).filter((c) => !there.has(c.value))
})

const same = (a: Target, b: Target) => a.device === b.device && a.property === b.property
const change = (t: Target, part: Partial<Target>) =>
  set({ targets: copy.value!.targets.map((x) => (same(x, t) ? { ...x, ...part } : x)) })
/** Whether a value is the first of its device. */
const first = (t: Target) =>
  same(
    copy.value!.targets.find((x) => x.device === t.device)!,
    t,
  )
const drop = (gone: Target[]) => set({ targets: copy.value!.targets.filter((x) => !gone.some((t) => same(x, t))) })

function add(choice: string) {
  const [device, property] = split(choice)
  const value = home.state(device, property)?.value
  if (value === undefined || value === null) {
    notices.done('Nothing is known of this value yet; set it once on the device’s page.')
    return
  }
  set({ targets: [...copy.value!.targets, { device, property, value }] })
}

/** How what is in the scene is now; of other devices than lamps only what the scene has of them. */
async function present(): Promise<Target[]> {
  const devices = [...new Set(copy.value!.targets.map((t) => t.device))]
  const targets = await ask(api.POST('/api/scenes/capture', { body: { devices, others: devices } }))
  const kept = targets.filter((t) => home.device(t.device)?.light || copy.value!.targets.some((x) => same(x, t)))
  return withFades(kept, copy.value!.targets)
}

const recapture = () =>
  notices.attempt(async () => {
    set({ targets: await present() })
    notices.done('Captured anew, as these lights are now. Undo takes it back.')
  })

/** Tries the values on the real lights; the present ones come back at the second press. */
let before: Target[] = []
const tryValues = () =>
  notices.attempt(async () => {
    const targets = trying.value ? before : copy.value!.targets
    if (!trying.value) before = await present()
    await ask(
      api.POST('/api/scenes/try', {
        body: { targets, fadeSeconds: trying.value ? 0 : copy.value!.fadeSeconds },
      }),
    )
    trying.value = !trying.value
  })

const lies = computed(() => props.scene.laid && props.scene.inEffect)
const ways = [
  { value: 'replaces', title: 'replaces what is on', note: 'its lamps are as it says, until something else is' },
  {
    value: 'laid',
    title: 'is laid on top of what is on',
    note: 'lifted off again, what lies below shows as it is by then',
  },
]
const apply = () =>
  notices.attempt(async () => {
    await act.pressScene(props.scene)
    trying.value = false
  })
</script>

<template>
  <DefinitionEditor
    v-if="copy"
    :edit="edit"
    :title="copy.title"
    :pick="{ kind: 'scene', id: scene.id }"
    label="Name of the scene"
    @update:title="set({ title: $event })"
    @remove="remove"
  >
    <template #state>{{ lies ? 'laid on top now' : scene.inEffect ? 'in effect now' : 'not in effect' }}</template>
    <template #buttons>
      <Button
        severity="secondary"
        :label="trying ? 'Put back as it was' : 'Try'"
        :disabled="!copy.targets.length"
        @click="tryValues"
      />
      <Button
        :label="lies ? 'Lift off' : scene.laid ? 'Lay on top' : 'Apply'"
        :disabled="saving !== 'saved' || !copy.targets.length"
        @click="apply"
      />
    </template>

    <p class="fade">
      These values, fading over
      <DurationToken
        :model-value="copy.fadeSeconds"
        label="Fade"
        workable
        :formula="copy.fadeExpression"
        @update:model-value="set({ fadeSeconds: Math.min(3600, $event) })"
        @update:formula="set({ fadeExpression: $event })"
      />
      <button class="plain link" @click="recapture">Capture these lights anew</button>
    </p>
    <p class="lies">
      It
      <TokenPicker
        :model-value="copy.laid ? 'laid' : 'replaces'"
        :choices="ways"
        label="How it is applied"
        @update:model-value="set({ laid: $event === 'laid' || undefined })"
      />.
    </p>
    <p class="modes">
      <span class="soft">Rules and schedules apply it in</span>
      <ModesPicker
        label="Modes in which rules and schedules apply it"
        :model-value="copy.modes"
        @update:model-value="set({ modes: $event })"
      />
      <span class="soft">A hand applies it in any.</span>
    </p>

    <p class="modes">
      <span class="soft">Its icon</span>
      <IconPicker :model-value="copy.icon" label="Icon" @update:model-value="set({ icon: $event })" />
      <span class="soft">and color</span>
      <ColorChoice
        :model-value="copy.color"
        label="Color"
        @update:model-value="set({ color: $event as Scene['color'] })"
      />
    </p>
    <HiddenChoice :model-value="copy.hidden" @update:model-value="set({ hidden: $event })" />

    <SceneMixing :scene="scene.id" :targets="copy.targets" @change="set({ targets: $event })" />

    <section v-for="g in groups" :key="g.id" class="group">
      <h2>
        {{ g.title }}
        <button
          v-if="g.targets.length > 1"
          class="plain link small"
          :aria-label="`Remove all of ${g.title}`"
          @click="drop(g.targets)"
        >
          Remove all
        </button>
      </h2>
      <ul>
        <li v-for="t in g.targets" :key="join(t.device, t.property)">
          <LampPendant
            v-if="t.property === home.device(t.device)?.light"
            :label="`${home.device(t.device)?.title} in this scene`"
            :on="t.value === true || Number(t.value) > 0"
            :level="typeof t.value === 'number' ? t.value : undefined"
            :swatch="scene.lights.find((l) => l.device === t.device)?.swatch"
            still
          />
          <span v-else />
          <span
            >{{ home.device(t.device)?.title ?? 'a device no longer in the home' }}
            <span class="soft">{{ home.property(t.device, t.property)?.title.toLowerCase() }}</span>
            <span v-if="first(t)" class="own">
              <button
                v-if="fadeOf(copy.targets, t.device) === undefined"
                type="button"
                class="plain link small"
                :aria-label="`Another fade for ${home.device(t.device)?.title}`"
                @click="set({ targets: withFade(copy.targets, t.device, copy.fadeSeconds) })"
              >
                another fade
              </button>
              <template v-else>
                <span class="soft small">over </span>
                <DurationToken
                  :model-value="fadeOf(copy.targets, t.device)!"
                  :label="`Fade of ${home.device(t.device)?.title}`"
                  zero="no time"
                  @update:model-value="set({ targets: withFade(copy.targets, t.device, Math.min(3600, $event)) })"
                />
                <button
                  type="button"
                  class="plain soft"
                  :aria-label="`${home.device(t.device)?.title} fades as the scene does`"
                  title="As the scene"
                  @click="set({ targets: withFade(copy.targets, t.device, undefined) })"
                >
                  ×
                </button>
              </template>
            </span>
            <span v-if="home.device(t.device)?.attendedOnly" class="soft small"
              >attended only: a scene does not switch it on</span
            ></span
          >
          <span class="value">
            <SceneValue :target="t" @change="change(t, $event)" />
          </span>
          <span class="mono soft now">now {{ home.state(t.device, t.property)?.text ?? '–' }}</span>
          <button
            class="plain soft"
            :aria-label="`Remove ${home.device(t.device)?.title} ${t.property}`"
            title="Remove"
            @click="drop([t])"
          >
            ×
          </button>
        </li>
      </ul>
    </section>
    <p v-if="!copy.targets.length" class="soft empty">This scene sets nothing yet.</p>
    <p v-if="missing.length" class="more">
      <TokenPicker
        :model-value="undefined"
        :choices="missing"
        label="Value to add"
        empty="Add a value"
        @update:model-value="add"
      />
    </p>
    <NoteField :model-value="copy.note" @update:model-value="set({ note: $event })" />
    <p v-if="scene.usedBy.length" class="soft small">Used by {{ scene.usedBy.map((u) => u.title).join(', ') }}.</p>
    <EarlierVersions :id="scene.id" kind="scene" :revision="scene.revision" />
  </DefinitionEditor>
</template>

<style scoped>
.modes {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-10);
  align-items: center;
  font-size: var(--type-text);
}
.modes :deep(.p-multiselect) {
  min-width: 200px;
}
.fade {
  display: flex;
  gap: var(--space-10);
  padding: var(--space-16) 0 var(--space-4);
  font-size: var(--type-lead);
}
.lies {
  padding: var(--space-4) 0;
  font-size: var(--type-lead);
}
.own {
  margin-left: var(--space-8);
  white-space: nowrap;
}
.fade .link {
  margin-left: auto;
  font-size: var(--type-small);
}
.group {
  margin-top: var(--space-16);
}
ul {
  margin-top: var(--space-4);
}
li {
  display: grid;
  grid-template-columns: 32px minmax(0, 1fr) minmax(130px, max-content) 130px 24px;
  gap: var(--space-12);
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: var(--space-8) 0;
  font-size: var(--type-lead);
}
.value {
  text-align: right;
}
.now {
  font-size: var(--type-small);
  text-align: right;
}
@media (max-width: 720px) {
  li {
    grid-template-columns: 32px minmax(0, 1fr) auto 24px;
    row-gap: 0;
  }
  .now {
    grid-area: 2 / 2;
    text-align: left;
  }
}
.empty,
.more {
  padding: var(--space-14) 0;
}
.note {
  width: 100%;
  background: transparent;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  padding: var(--space-8) var(--space-12);
}
.small {
  font-size: var(--type-small);
  margin-top: var(--space-10);
}
</style>
