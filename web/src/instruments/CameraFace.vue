<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import Dialog from 'primevue/dialog'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { FaceSize } from '@/lib/faces'
import { running } from '@/lib/format'
import { useReading } from '@/lib/reading'
import { useHome } from '@/stores/home'

/** What a camera sees and how old that is, asked for again and again while it is looked at. A tap shows it large. */
const props = withDefaults(
  defineProps<{
    device: string
    picture: string
    label: string
    /** After how many seconds another picture is asked for. */
    every?: number
    size?: FaceSize
  }>(),
  { every: 10, size: 'page' },
)
const home = useHome()

const SECOND = 1000
const url = ref('')
const at = ref(0)
const large = ref(false)

function show(data?: Blob) {
  if (url.value) URL.revokeObjectURL(url.value)
  url.value = data ? URL.createObjectURL(data) : ''
}
const { failed, again } = useReading(async () => {
  const { device, picture } = props
  const data = await ask<Blob>(
    api.GET('/api/devices/{id}/pictures/{picture}', { params: { path: { id: device, picture } }, parseAs: 'blob' }),
  )
  if (device !== props.device || picture !== props.picture) return
  show(data)
  at.value = home.now
})
const visible = useDocumentVisibility()
const asking = useIntervalFn(
  () => void again(),
  () => props.every * SECOND,
  { immediate: false },
)
watch(
  () => [props.device, props.picture, visible.value],
  () => {
    if (visible.value === 'visible') {
      void again()
      asking.resume()
    } else asking.pause()
  },
  { immediate: true },
)
onBeforeUnmount(() => show())
const age = computed(() => (url.value ? `${running((home.now - at.value) / 1000)} ago` : ''))
/** After how many pictures that did not come the last one is old. */
const MISSED = 3
const stale = computed(() => !!failed.value || home.now - at.value > MISSED * props.every * SECOND)
</script>

<template>
  <figure class="camera" :class="[`at-${size}`, { stale: url && stale }]">
    <button v-if="url" type="button" class="plain" :aria-label="`${label}: show it large`" @click="large = true">
      <img :src="url" :alt="`What ${label} sees`" />
    </button>
    <span v-else class="none" aria-hidden="true" />
    <figcaption class="soft">
      <span class="mono">{{ age || (failed ? '' : 'Asking for a picture …') }}</span>
      <span v-if="failed" class="failed" role="status">{{ failed }}</span>
    </figcaption>
    <Dialog v-model:visible="large" modal dismissable-mask :header="`${label}, ${age}`" class="camera-large">
      <img :src="url" :alt="`What ${label} sees`" />
    </Dialog>
  </figure>
</template>

<style scoped>
.camera {
  display: grid;
  margin: 0;
  gap: var(--space-4);
  width: 100%;
}
.at-row {
  max-width: 72px;
}
.at-page {
  max-width: 420px;
}
img,
.none {
  display: block;
  width: 100%;
  aspect-ratio: 16 / 9;
  object-fit: contain;
  background: var(--sheet);
  border: 1px solid var(--edge);
}
.none {
  border-style: dotted;
}
/* Old: hatched over. */
.stale button {
  position: relative;
}
.stale button::after {
  content: '';
  position: absolute;
  inset: 0;
  background: repeating-linear-gradient(45deg, var(--ink-soft) 0 1.5px, transparent 1.5px 9px);
  pointer-events: none;
}
.at-row figcaption {
  display: none;
}
figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--space-12);
  font-size: var(--type-small);
}
.failed {
  color: var(--ember);
}
:global(.camera-large) {
  width: min(1100px, 94vw);
}
</style>
