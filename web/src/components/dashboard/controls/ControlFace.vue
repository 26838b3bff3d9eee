<script setup lang="ts">
import { computed, watch } from 'vue'
import { usePress } from '@/lib/press'
import BoardIcon from '../BoardIcon.vue'
import { useCell } from '../cell'

/** The face that all controls share: a name, a figure, why it is so, an instrument at its foot, and a bar at its left while it is on. */
const props = defineProps<{
  title: string
  figure?: string
  on?: boolean
  /** Asked for, and not there yet. */
  pending?: boolean
  failed?: boolean
  silent?: boolean
  /** Whether a tap does something by itself. */
  acts?: boolean
  /** Whether the instrument takes the room that is left, and not what is tapped above it. */
  grows?: boolean
  /** Asks once more for what failed. */
  again?: () => void
}>()
const emit = defineEmits<{ tap: [] }>()
const { control, face, still, deed, taps } = useCell()

const ownTap = () => emit('tap')
watch(
  () => props.acts,
  (acts) => taps(acts ? ownTap : undefined),
  { immediate: true },
)
const tap = computed(() => deed('tap') ?? (props.acts ? ownTap : undefined))
const button = computed(() => !still.value && (!!tap.value || !!deed('double') || !!deed('hold')))
const { holding, handlers } = usePress({
  tap: () => tap.value?.(),
  double: () => deed('double'),
  hold: () => deed('hold'),
})
/** A word that is too long to stand beside a name as large as a figure. */
const LONG = 6
const long = computed(() => !parts.value[2] && parts.value[1]!.length > LONG)
/** The figure large, its unit small. */
const parts = computed(() => {
  const figure = props.figure ?? ''
  return /^(-?[\d.]+) (\D+)$/.exec(figure) ?? [figure, figure, '']
})
</script>

<template>
  <article class="cell" :aria-label="title" :class="[face, { grows, on, pending, failed, silent }]">
    <component
      :is="button ? 'button' : 'div'"
      class="plain face"
      :class="{ holding }"
      :aria-pressed="button && acts ? on : undefined"
      v-on="button ? handlers : {}"
    >
      <span class="top">
        <b class="title"
          ><BoardIcon v-if="control.icon" :name="control.icon" :size="24" /><slot v-else name="icon" /> {{ title }}</b
        >
        <span v-if="figure" class="figure mono" :class="{ on, pending, word: long }"
          ><span class="number" :style="`--digits: ${parts[1]!.length}`">{{ parts[1] }}</span
          ><small v-if="parts[2]"> {{ parts[2] }}</small></span
        >
      </span>
      <span v-if="face !== 'small'" class="reason"><slot name="reason" /></span>
    </component>
    <button v-if="again && !still" type="button" class="plain again" @click="again">Try again</button>
    <slot v-if="face !== 'small'" name="foot" />
  </article>
</template>

<style scoped>
.cell {
  contain: layout style;
  height: 100%;
  display: flex;
  flex-direction: column;
  background: color-mix(in srgb, var(--paper) var(--opaque, 100%), transparent);
  padding: var(--space-14) var(--space-16) var(--space-14) var(--space-10);
  border-left: 5px solid transparent;
  min-width: 0;
  overflow: hidden;
  container-type: inline-size;
}
.cell.small {
  padding-block: var(--space-4);
}
.cell.on {
  border-left-color: var(--verdigris);
}
.cell.pending {
  border-left: 5px dashed var(--ochre);
}
.cell.failed {
  border-left: 5px solid var(--ember);
}
.face {
  flex: 1 0 auto;
  display: flex;
  flex-direction: column;
  gap: var(--space-2);
  text-align: left;
  min-height: 52px;
  width: 100%;
  touch-action: manipulation;
  user-select: none;
}
div.face {
  cursor: default;
  user-select: auto;
}
.face.holding {
  color: var(--verdigris);
}
.grows .face {
  flex-grow: 0;
}
.small .face {
  justify-content: center;
}
.top {
  display: flex;
  justify-content: space-between;
  gap: var(--space-12);
  align-items: baseline;
}
.title {
  font-size: var(--type-head);
  font-weight: 650;
  line-height: 1.25;
  overflow-wrap: anywhere;
  color: var(--accent, var(--ink));
}
.figure {
  font-size: var(--type-panel);
  line-height: 1.3;
  margin-block: -0.15em;
  white-space: nowrap;
  color: var(--ink-soft);
}
@container (max-width: 230px) {
  .top {
    flex-direction: column;
    gap: 0;
  }
}
/* As wide as its digits: another figure of as many is drawn without laying anything out but itself. */
.number {
  display: inline-block;
  contain: strict;
  width: calc(var(--digits) * 1ch);
  height: 1.3em;
  vertical-align: bottom;
}
.word {
  font-size: var(--type-figure);
}
.figure small {
  font-size: var(--type-text);
  margin-left: var(--space-4);
}
.figure.on {
  color: var(--verdigris);
}
.figure.pending {
  color: var(--ochre);
}
.reason {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.failed .figure {
  color: var(--ember);
}
.again {
  align-self: flex-start;
  min-height: 64px;
  padding: 0 var(--space-20);
  border: 1px solid var(--ember);
  border-radius: var(--radius);
  color: var(--ember);
  font-weight: 650;
}
.silent {
  background: repeating-linear-gradient(
    45deg,
    var(--rule) 0 1px,
    color-mix(in srgb, var(--paper) var(--opaque, 100%), transparent) 1px 9px
  );
}
</style>
