<script setup lang="ts">
import { computed } from 'vue'

/** The face that all controls share: a name, a figure, why it is so, an instrument at its foot, and a bar at its left while it is on. */
const props = defineProps<{
  title: string
  figure: string
  on?: boolean
  /** Asked for, and not there yet. */
  pending?: boolean
  failed?: boolean
  silent?: boolean
  /** Whether a tap does something. */
  acts?: boolean
  /** Whether it is only looked at, while the board is arranged. */
  still?: boolean
}>()
const emit = defineEmits<{ tap: [] }>()

const button = computed(() => props.acts && !props.still)
/** The figure large, its unit small. */
const parts = computed(() => /^(-?[\d.]+) (\D+)$/.exec(props.figure) ?? [props.figure, props.figure, ''])
</script>

<template>
  <article class="cell" :aria-label="title" :class="{ on, pending, failed, silent }">
    <component
      :is="button ? 'button' : 'div'"
      class="plain face"
      :aria-pressed="button ? on : undefined"
      @click="button && emit('tap')"
    >
      <span class="top">
        <b class="title">{{ title }}</b>
        <span class="figure mono" :class="{ on, pending }"
          ><span class="number" :style="`--digits: ${parts[1]!.length}`">{{ parts[1] }}</span
          ><small v-if="parts[2]"> {{ parts[2] }}</small></span
        >
      </span>
      <span class="reason"><slot name="reason" /></span>
    </component>
    <slot name="foot" />
  </article>
</template>

<style scoped>
.cell {
  contain: layout style;
  height: 100%;
  display: flex;
  flex-direction: column;
  background: var(--paper);
  padding: var(--space-14) var(--space-16) var(--space-16) var(--space-10);
  border-left: 5px solid transparent;
  min-width: 0;
  overflow: hidden;
  container-type: inline-size;
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
  min-height: 64px;
  width: 100%;
}
div.face {
  cursor: default;
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
}
.figure {
  font-size: var(--type-figure);
  line-height: 1.1;
  white-space: nowrap;
  color: var(--ink-soft);
}
@container (max-width: 230px) {
  .top {
    flex-direction: column;
    gap: 0;
  }
  .figure {
    font-size: var(--type-lead);
  }
}
/* As wide as its digits: another figure of as many is drawn without laying anything out but itself. */
.number {
  display: inline-block;
  contain: strict;
  width: calc(var(--digits) * 1ch);
  height: 1.1em;
  vertical-align: bottom;
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
.silent {
  background: repeating-linear-gradient(45deg, var(--rule) 0 1px, var(--paper) 1px 9px);
}
</style>
