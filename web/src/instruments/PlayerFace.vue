<script setup lang="ts">
import { IconPlayerPause, IconPlayerPlay, IconPlayerSkipForward } from '@tabler/icons-vue'
import { computed } from 'vue'
import { certaintyWords, type Certainty } from '@/lib/certainty'
import type { FaceSize } from '@/lib/faces'
import LevelScale from './LevelScale.vue'

/** A player: what it plays, pause and next, and its volume as a scale. What a player cannot do is not there. */
const props = withDefaults(
  defineProps<{
    label: string
    /** The title of what it plays. */
    track: string
    playing: boolean
    certainty?: Certainty
    /** Whether it can be told to play the next. */
    skips?: boolean
    /** In percent; absent where it has no volume. */
    volume?: number
    /** The volume that it was asked for, while it is not there yet. */
    volumeAsked?: number
    volumeCertainty?: Certainty
    muted?: boolean
    size?: FaceSize
    disabled?: boolean
  }>(),
  {
    certainty: 'confirmed',
    volume: undefined,
    volumeAsked: undefined,
    volumeCertainty: 'confirmed',
    size: 'page',
  },
)
const emit = defineEmits<{ toggle: []; next: []; volume: [number] }>()
const ICON = { row: 18, page: 22, panel: 30 }
const words = computed(() =>
  [props.track, props.playing ? '' : 'paused', props.muted ? 'muted' : '', certaintyWords[props.certainty]]
    .filter(Boolean)
    .join(', '),
)
</script>

<template>
  <span class="player" :class="[`at-${size}`, certainty, { playing }]" role="group" :aria-label="`${label}: ${words}`">
    <span class="track" :title="track">{{ track || 'Nothing' }}</span>
    <span class="keys">
      <button
        type="button"
        class="plain key"
        :disabled="disabled"
        :aria-label="`${label}: ${playing ? 'pause' : 'play'}`"
        @click="emit('toggle')"
      >
        <component :is="playing ? IconPlayerPause : IconPlayerPlay" :size="ICON[size]" stroke-width="1.5" />
      </button>
      <button
        v-if="skips"
        type="button"
        class="plain key"
        :disabled="disabled"
        :aria-label="`${label}: next`"
        @click="emit('next')"
      >
        <IconPlayerSkipForward :size="ICON[size]" stroke-width="1.5" />
      </button>
      <LevelScale
        v-if="volume !== undefined"
        class="volume"
        :class="{ muted }"
        :label="`${label}: volume${muted ? ', muted' : ''}`"
        :value="volume"
        :asked="volumeAsked"
        :minimum="0"
        :maximum="100"
        unit="%"
        :certainty="volumeCertainty"
        :size="size"
        :disabled="disabled"
        @set="emit('volume', $event)"
      />
    </span>
  </span>
</template>

<style scoped>
.player {
  display: flex;
  flex-direction: column;
  gap: var(--space-4);
  flex: 1;
  min-width: 0;
}
.track {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--ink-soft);
}
.playing .track {
  color: var(--ink);
  font-weight: 600;
}
.at-row .track {
  font-size: var(--type-small);
}
.silent .track,
.unknown .track {
  text-decoration: line-through dotted;
}
.keys {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--space-4) var(--space-10);
}
.key {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  min-width: var(--touch);
  min-height: var(--touch);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  color: var(--ink);
}
.key:hover {
  border-color: var(--verdigris);
}
.at-row .key {
  min-width: 30px;
  min-height: 30px;
}
.at-panel .key {
  min-width: 64px;
  min-height: 64px;
}
.playing.confirmed .key:first-child,
.playing.assumed .key:first-child {
  border-color: var(--verdigris);
  color: var(--verdigris);
}
.pending .key:first-child {
  border: 1px dashed var(--ochre);
}
.assumed .key:first-child,
.unknown .key:first-child {
  border-style: dotted;
}
.failed .key:first-child {
  border-color: var(--ember);
  color: var(--ember);
}
.volume {
  flex: 1 1 120px;
  width: 0;
}
.muted {
  opacity: 0.45;
}
</style>
