<script setup lang="ts">
import { computed, useId } from 'vue'
import { certaintyWords, type Certainty, type Held } from '@/lib/certainty'
import type { FaceSize } from '@/lib/faces'

/** A lamp as a pendant, filled with the light's real color while it is on. A tap switches it. */
const props = withDefaults(
  defineProps<{
    label: string
    on: boolean
    /** Its level in percent, where it dims. */
    level?: number
    /** The light's color; without one it is a lamp's. */
    swatch?: string
    certainty?: Certainty
    held?: Held
    size?: FaceSize
    /** Whether it is only looked at. */
    still?: boolean
  }>(),
  { level: undefined, swatch: undefined, certainty: 'confirmed', held: '', size: 'row', still: false },
)
const emit = defineEmits<{ tap: [] }>()
const hatch = useId()

const words = computed(() =>
  [
    props.label,
    props.level !== undefined && props.on ? `${Math.round(props.level)} %` : props.on ? 'on' : 'off',
    certaintyWords[props.certainty],
    props.held === 'hand' ? 'held by hand' : props.held === 'automation' ? 'held by a rule or scene' : '',
  ]
    .filter(Boolean)
    .join(', '),
)
const SHADE = 'M8.5 8h9l6 11h-21z'
</script>

<template>
  <component
    :is="still ? 'span' : 'button'"
    class="plain pendant"
    :class="[`at-${size}`, certainty, { on }]"
    :role="still ? 'img' : 'switch'"
    :aria-checked="still ? undefined : on"
    :aria-label="still ? words : label"
    :aria-description="still ? undefined : words.slice(label.length + 2)"
    :title="words"
    @click="still || emit('tap')"
  >
    <svg viewBox="0 0 26 26" aria-hidden="true">
      <defs v-if="certainty === 'silent'">
        <pattern :id="hatch" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V4" class="hatch" />
        </pattern>
      </defs>
      <path d="M13 0V8" class="cord" />
      <path :d="SHADE" class="shade" :style="on && swatch ? `fill: ${swatch}` : undefined" />
      <path v-if="certainty === 'silent'" :d="SHADE" :fill="`url(#${hatch})`" />
      <path v-if="certainty === 'failed'" d="M8 19l5 -6l5 6z" class="notch" />
      <path v-if="held === 'automation'" d="M10.5 22h5l1.5 4h-8z" class="weight" />
      <circle v-else-if="held === 'hand'" cx="13" cy="23.4" r="2.2" class="hand" />
    </svg>
  </component>
</template>

<style scoped>
.pendant {
  display: inline-flex;
  align-items: center;
  justify-content: center;
}
.at-row {
  width: 32px;
  height: 38px;
}
.at-page {
  width: 44px;
  height: 44px;
}
.at-panel {
  width: 64px;
  height: 64px;
}
.at-row svg {
  width: 22px;
}
.at-page svg {
  width: 30px;
}
.at-panel svg {
  width: 46px;
}
svg {
  overflow: visible;
}
.cord {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.shade {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1.6;
  stroke-linejoin: round;
}
.on .shade {
  fill: var(--lamplight);
  stroke: var(--ink);
}
.pending .shade {
  stroke: var(--ochre);
  stroke-dasharray: 3 2;
}
.assumed .shade {
  stroke-dasharray: 1.4 1.8;
}
.unknown .shade {
  stroke-dasharray: 1.4 1.8;
  opacity: 0.6;
}
.hatch {
  stroke: var(--ink-soft);
  stroke-width: 1.6;
}
.failed .shade {
  stroke: var(--ember);
}
.notch {
  fill: var(--paper);
  stroke: var(--ember);
  stroke-width: 1.6;
}
.weight {
  fill: var(--ink-soft);
}
.hand {
  fill: var(--plum);
}
button:hover .cord {
  stroke: var(--verdigris);
}
</style>
