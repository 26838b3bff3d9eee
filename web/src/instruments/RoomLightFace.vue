<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Light } from '@/api/types'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import type { FaceSize } from '@/lib/faces'
import LampPendant from './LampPendant.vue'
import LevelScale from './LevelScale.vue'

/** The light of a room as one: a pendant that puts all out or brings them back, and how bright it is, with its lamps in proportion. */
const props = withDefaults(
  defineProps<{
    light: Light
    size?: FaceSize
    /** Whether its figure stands elsewhere. */
    plain?: boolean
    /** Whether it is only looked at. */
    still?: boolean
  }>(),
  { size: 'row', plain: false, still: false },
)
const attempt = useAttempt()

const FULL = 100
/** What was asked for and is not told yet. */
const asked = ref<number>()
watch(
  () => props.light.level,
  () => (asked.value = undefined),
)
async function tell(level: number, telling: () => Promise<unknown>) {
  asked.value = level
  if (!(await attempt(telling))) asked.value = undefined
}
const set = (level: number) => tell(level, () => act.light(props.light.id, 'level', level))
/** How bright it was when it was last on: drawn as asked for, until the hub says where it comes on. */
const last = ref(props.light.level || FULL)
watch(
  () => props.light.level,
  (level) => level && (last.value = level),
)
const toggle = () => (props.light.on ? set(0) : tell(last.value, () => act.light(props.light.id, 'on')))
const level = computed(() => Math.round(props.light.level))
</script>

<template>
  <span class="face" :class="[`at-${size}`, { plain }]">
    <LampPendant
      :label="light.title"
      :on="light.on > 0"
      :level="light.level"
      :swatch="light.swatch"
      :size="size"
      :still="still"
      @tap="toggle"
    />
    <LevelScale
      class="scale"
      :label="`Level of ${light.title}`"
      :value="level"
      :asked="asked"
      :minimum="0"
      :maximum="FULL"
      unit="%"
      :color="light.swatch"
      :certainty="asked === undefined ? 'confirmed' : 'pending'"
      :size="size"
      :disabled="still || !light.members.length"
      @set="set"
    />
    <span v-if="!plain" class="mono figure"
      ><template v-if="light.on">{{ asked ?? level }}<small>%</small></template
      ><span v-else class="soft">off</span></span
    >
  </span>
</template>

<style scoped>
.face {
  display: grid;
  grid-template-columns: auto minmax(120px, 1fr) 72px;
  gap: var(--space-14);
  align-items: center;
}
.plain {
  grid-template-columns: auto minmax(0, 1fr);
  width: 100%;
}
.figure {
  font-size: var(--type-figure);
  text-align: right;
}
.figure small {
  margin-left: 0.2em;
  font-size: var(--type-note);
  color: var(--ink-soft);
}
</style>
