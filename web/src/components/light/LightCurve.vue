<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Light, LightDocument } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { useHome } from '@/stores/home'
import CurveRow from './CurveRow.vue'

/** Which day curve the lamps of a room follow, as it is today, and how many do. */
const props = defineProps<{
  light: Light
  curve: string | undefined
  circuits: LightDocument['circuits']
  /** What a lamp is called within its room. */
  called: (title: string) => string
  /** Whether something moves it now, so that no lamp is expected to follow. */
  moved: boolean
}>()
const emit = defineEmits<{ change: [string | undefined]; circuit: [lamp: string, curve?: string]; follow: [] }>()
const home = useHome()

const NONE = ''
const choices = computed(() => [
  { value: NONE, title: 'no day curve' },
  ...home.curves.map((c) => ({ value: c.id, title: c.title })),
])
// Lamps that follow another one, or none.
const OWN = 'none'
const lamps = computed(() =>
  props.light.members
    .filter((m) => m.does !== 'switches')
    .map((m) => ({ value: m.device, title: props.called(home.device(m.device)?.title ?? '') })),
)
const apart = computed(() => lamps.value.filter((l) => props.circuits?.[l.value]?.curve))
const others = computed(() => lamps.value.filter((l) => !props.circuits?.[l.value]?.curve))
const ofLamp = computed(() => [
  { value: NONE, title: 'the room’s' },
  { value: OWN, title: 'no day curve' },
  ...home.curves.map((c) => ({ value: c.id, title: c.title })),
])
const doc = computed(() => home.curve(props.curve))
const on = computed(() => props.light.members.filter((m) => m.on && m.curve))
const off = computed(() => on.value.filter((m) => !m.follows).length)
const scenes = computed(() =>
  home.scenes
    .filter((s) => props.light.scenes.some((x) => x.scene === s.id) && s.targets.some((t) => t.curve === props.curve))
    .map((s) => s.title),
)
</script>

<template>
  <section class="curve" aria-label="Day curve">
    <h2>Day curve</h2>
    <p v-if="!home.curves.length" class="soft">
      Lamps that are switched on can follow a day curve, bright by day and low and warm at night.
      <RouterLink to="/curves">Make a day curve</RouterLink>
    </p>
    <template v-else>
      <p>
        <span class="soft">Lamps that are switched on follow </span>
        <TokenPicker
          :model-value="curve ?? NONE"
          :choices="choices"
          label="Day curve of the room"
          empty="a removed day curve"
          @update:model-value="emit('change', $event || undefined)"
        />
        <template v-if="doc">
          <span v-if="scenes.length" class="soft">, and so does {{ scenes.join(' and ') }}</span>
          <span v-if="off && !moved" class="soft">
            · {{ off === 1 ? '1 lamp that is on was' : `${off} lamps that are on were` }} set otherwise
            <button type="button" class="plain link" @click="emit('follow')">Follow again</button>
          </span>
        </template>
      </p>
      <p v-if="doc || apart.length" class="small">
        <template v-for="l in apart" :key="l.value">
          <span class="soft">{{ l.title }} follows </span>
          <TokenPicker
            :model-value="circuits![l.value]!.curve"
            :choices="ofLamp"
            :label="`Day curve of ${l.title}`"
            @update:model-value="emit('circuit', l.value, $event || undefined)"
          />
          <span class="soft">. </span>
        </template>
        <TokenPicker
          v-if="others.length"
          :model-value="undefined"
          :choices="others"
          label="Lamp that does not follow it"
          verb
          :empty="apart.length ? 'And another' : 'All but …'"
          @update:model-value="emit('circuit', $event, OWN)"
        />
      </p>
      <RouterLink v-if="doc" :to="`/curves/${doc.id}`" class="drawing" :aria-label="`Day curve ${doc.title}`">
        <CurveRow :curve="doc" :height="136" />
      </RouterLink>
    </template>
  </section>
</template>

<style scoped>
.curve {
  margin-top: var(--space-20);
}
.small {
  font-size: var(--type-small);
}
.drawing {
  display: block;
  text-decoration: none;
}
</style>
