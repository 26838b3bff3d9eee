<script setup lang="ts">
import { computed } from 'vue'
import type { Scene } from '@/api/types'
import type { FaceSize } from '@/lib/faces'
import { useHome } from '@/stores/home'

/** The colors that a scene makes, one for each lamp: as wide as the lamp is bright, outlined where it is off. */
const props = withDefaults(defineProps<{ scene: Scene; size?: FaceSize }>(), { size: 'row' })
const home = useHome()
const WIDEST = 34
const lights = computed(() =>
  props.scene.lights.map((l) => ({
    ...l,
    title: home.device(l.device)?.title ?? '',
    width: l.on ? Math.max(8, (l.level / 100) * WIDEST) : 8,
  })),
)
const words = computed(() =>
  lights.value.map((l) => `${l.title} ${l.on ? `${Math.round(l.level)} %` : 'off'}`).join(', '),
)
</script>

<template>
  <span class="colors" :class="`at-${size}`" role="img" :aria-label="words" :title="words">
    <i
      v-for="l in lights"
      :key="l.device"
      :class="{ on: l.on }"
      :style="{ width: l.width + 'px', background: l.on ? l.swatch : undefined }"
    />
  </span>
</template>

<style scoped>
.colors {
  display: inline-flex;
  flex-wrap: wrap;
  gap: var(--space-4);
}
i {
  height: 16px;
  border: 1px solid var(--edge);
  border-radius: 2px;
}
.at-panel i {
  height: 26px;
}
.on {
  background: var(--lamplight);
}
</style>
