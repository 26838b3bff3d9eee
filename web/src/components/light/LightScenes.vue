<script setup lang="ts">
import { computed, useTemplateRef } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Light, LightDocument, Scene, Target } from '@/api/types'
import OrderTools from '@/components/inputs/OrderTools.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import SceneColors from '@/instruments/SceneColors.vue'
import { act } from '@/lib/act'
import { documentOf } from '@/lib/documents'
import { useListDrag } from '@/lib/dragging'
import { withFades } from '@/lib/scenes'
import { useEdits } from '@/stores/edits'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import SceneGlyph from './SceneGlyph.vue'

/** The scenes of a room's light, in the order in which a key steps through them. */
type RoomScene = LightDocument['scenes'][number]
const props = defineProps<{ light: Light; scenes: RoomScene[] }>()
const emit = defineEmits<{ change: [RoomScene[]] }>()
const home = useHome()
const notices = useNotices()
const edits = useEdits()

/** The scenes with their numbers: those that are skipped have none. */
const rows = computed(() => {
  let n = 0
  return props.scenes
    .map((s) => ({ ...s, of: home.scene(s.scene) }))
    .map((s) => ({
      ...s,
      number: s.skip || s.of?.laid ? undefined : ++n,
      here: s.of?.laid ? s.of.inEffect : props.light.scene === s.scene,
    }))
})
const change = (i: number, part: Partial<RoomScene>) =>
  emit(
    'change',
    props.scenes.map((s, k) => (k === i ? { ...s, ...part } : s)),
  )
function move(from: number, to: number) {
  const all = [...props.scenes]
  all.splice(to, 0, ...all.splice(from, 1))
  emit('change', all)
}
const takeOut = (i: number) =>
  emit(
    'change',
    props.scenes.filter((_, k) => k !== i),
  )
const list = useTemplateRef<HTMLElement>('list')
useListDrag(list, { handle: '.handle', draggable: 'li' }, ({ oldIndex, newIndex }) => move(oldIndex, newIndex))

/** Scenes that could be added: first those that set its lamps. */
const more = computed(() => {
  const own = new Set(props.light.members.map((m) => m.device))
  const has = (id: string) => home.scene(id)!.targets.some((t) => own.has(t.device))
  return home.scenes
    .filter((s) => !props.scenes.some((x) => x.scene === s.id))
    .map((s) => ({ value: s.id, title: s.title, group: has(s.id) ? 'With its lamps' : 'Others' }))
    .sort((a, b) => Number(b.group === 'With its lamps') - Number(a.group === 'With its lamps'))
})
/** Takes what was changed since a scene was applied into the scene. */
const keep = (s: Scene) =>
  notices.attempt(async () => {
    const before = documentOf('scene', s)
    const devices = [...new Set(before.targets.map((t) => t.device))]
    const now = await ask(api.POST('/api/scenes/capture', { body: { devices, others: devices } }))
    const had = (t: Target) => before.targets.some((x) => x.device === t.device && x.property === t.property)
    const kept = now.filter((t) => home.device(t.device)?.light || had(t))
    const after = { ...before, targets: withFades(kept, before.targets) }
    await edits.now('scene', s.id, before, after)
    notices.done(`${s.title} is as it is now.`, () => edits.now('scene', s.id, after, before))
  })
const apply = (s: Scene) => notices.attempt(() => act.pressScene(s))
const stands = (s: { here: boolean; of?: Scene }) => {
  if (s.of?.laid) return s.here ? 'laid on top' : 'to be laid on top'
  return s.here ? (props.light.differs.length ? 'changed since' : 'in effect') : ''
}
</script>

<template>
  <section aria-label="Its scenes">
    <h2>Scenes, in the order of a key</h2>
    <ol ref="list">
      <li v-for="(s, i) in rows" :key="s.scene" :class="{ effect: s.here }">
        <span class="mono soft">{{ s.number ?? '–' }}</span>
        <span class="what">
          <button
            v-if="s.of"
            type="button"
            class="plain named"
            :aria-label="`${s.of.laid && s.here ? 'Lift' : 'Apply'} ${s.of.title}`"
            @click="apply(s.of)"
          >
            <SceneGlyph :scene="s.of" /> {{ s.of.title }}
          </button>
          <span v-else class="soft">a removed scene</span>
          <SceneColors v-if="s.of?.lights.length" :scene="s.of" />
          <small class="soft">
            <template v-if="stands(s)">{{ stands(s) }} · </template>
            <template v-if="s.of && s.here && !s.of.laid && light.differs.length">
              <button
                type="button"
                class="plain link"
                :aria-label="`Keep the change in ${s.of.title}`"
                @click="keep(s.of)"
              >
                Keep the change
              </button>
              ·
            </template>
            <RouterLink class="link" :to="`/scenes/${s.scene}`">Edit</RouterLink>
            <template v-if="!s.of?.laid"> · </template>
            <button
              v-if="!s.of?.laid"
              type="button"
              class="plain link"
              @click="change(i, { skip: !s.skip || undefined })"
            >
              {{ s.skip ? 'Step through it' : 'Skip it' }}
            </button>
          </small>
        </span>
        <OrderTools
          :what="s.of?.title ?? 'a removed scene'"
          :first="i === 0"
          :last="i === rows.length - 1"
          :out="`Take ${s.of?.title ?? 'a removed scene'} out`"
          @up="move(i, i - 1)"
          @down="move(i, i + 1)"
          @out="takeOut(i)"
        />
      </li>
    </ol>
    <p v-if="!rows.length" class="soft small">None yet. Arrange the lamps and capture a scene, or add one.</p>
    <p class="add">
      <TokenPicker
        v-if="more.length"
        :model-value="undefined"
        :choices="more"
        label="Scene to add"
        empty="Add a scene"
        verb
        @update:model-value="emit('change', [...scenes, { scene: $event }])"
      />
      <RouterLink class="link" to="/scenes/new">Capture a new one</RouterLink>
    </p>
    <p class="soft small"><i>All off</i> and <i>Full</i> are always there, too: for a key, a rule, a dashboard.</p>
  </section>
</template>

<style scoped>
ol {
  margin: var(--space-6) 0 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--ink);
}
li {
  display: grid;
  grid-template-columns: 22px minmax(0, 1fr) auto;
  gap: var(--space-8);
  align-items: baseline;
  padding: var(--space-8) 0 var(--space-8) var(--space-8);
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid transparent;
}
.effect {
  border-left-color: var(--verdigris);
}
.what {
  display: grid;
  gap: var(--space-4);
  justify-items: start;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-14);
  margin: var(--space-10) 0;
}
.small {
  font-size: var(--type-small);
}
</style>
