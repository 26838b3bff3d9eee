<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'
import type { Control, Background } from '@/api/types'
import { dimmed, paperNeeded, rgbOf } from '@/lib/readable'
import { uploadAddress } from '@/lib/uploads'
import { useLook } from '@/stores/look'

/** What lies behind the controls: a picture or a tint, dimmed so far that whatever stands on it can be read. */
const props = defineProps<{ background: Background; controls: Control[] }>()
const look = useLook()

const PERCENT = 100
const token = (name: string) => rgbOf(getComputedStyle(document.documentElement).getPropertyValue(name))
/** The colors of the look that is shown. */
const colors = shallowRef({ text: token('--ink-soft'), paper: token('--paper') })
watch(
  () => look.night,
  () => (colors.value = { text: token('--ink-soft'), paper: token('--paper') }),
  { flush: 'post' },
)
const dim = computed(() => {
  const chosen = (props.background.dim ?? 0) / PERCENT
  if (!props.background.upload) return chosen
  const { darkest = 0, lightest = 1 } = props.background
  const needed = paperNeeded(colors.value.text, colors.value.paper, { darkest, lightest })
  return dimmed(chosen, Math.max(0, ...props.controls.map((c) => (c.clear ?? 0) / PERCENT)), needed)
})
const fade = computed(() => {
  const from = PERCENT - (props.background.fade ?? 0)
  return props.background.fade ? `linear-gradient(to bottom, black ${from}%, transparent)` : undefined
})
</script>

<template>
  <div class="backdrop" aria-hidden="true" :style="{ maskImage: fade }">
    <div v-if="background.tint" class="tint" :style="{ '--tint': `var(--${background.tint})` }" />
    <img
      v-if="background.upload"
      :src="uploadAddress(background.upload)"
      alt=""
      :style="{ filter: background.blur ? `blur(${background.blur}px)` : undefined }"
    />
    <div class="paper" :style="{ opacity: dim }" />
  </div>
</template>

<style scoped>
.backdrop {
  position: absolute;
  inset: 0;
  overflow: hidden;
  pointer-events: none;
}
.backdrop > * {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.tint {
  background: color-mix(in srgb, var(--tint) 22%, var(--paper));
}
img {
  object-fit: cover;
}
.paper {
  background: var(--paper);
}
</style>
