<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Control } from '@/api/types'
import { usePress } from '@/lib/press'
import { uploadAddress } from '@/lib/uploads'
import { optionOf, useCell } from '../cell'

/** A picture of the owner's own. */
defineProps<{ control: Control }>()
const { deed, still } = useCell()
const failed = ref(false)
const button = computed(() => !still.value && !!(deed('tap') ?? deed('double') ?? deed('hold')))
const { handlers } = usePress({
  tap: () => deed('tap')?.(),
  double: () => deed('double'),
  hold: () => deed('hold'),
})
</script>

<template>
  <component
    :is="button ? 'button' : 'figure'"
    class="plain picture"
    :aria-label="control.label || 'Picture'"
    v-on="button ? handlers : {}"
  >
    <span v-if="failed" class="soft none">This picture is no longer there.</span>
    <img
      v-else
      :src="uploadAddress(control.upload ?? '')"
      :alt="control.label ?? ''"
      :class="optionOf(control, 'fit', 'fill')"
      @error="failed = true"
    />
    <figcaption v-if="control.label && !button">{{ control.label }}</figcaption>
  </component>
</template>

<style scoped>
.picture {
  position: relative;
  display: block;
  width: 100%;
  height: 100%;
  margin: 0;
  overflow: hidden;
}
img {
  display: block;
  width: 100%;
  height: 100%;
}
.fill {
  object-fit: cover;
}
.whole {
  object-fit: contain;
}
.none {
  display: block;
  padding: var(--space-14);
}
figcaption {
  position: absolute;
  inset: auto 0 0;
  padding: var(--space-4) var(--space-14);
  background: color-mix(in srgb, var(--paper) 86%, transparent);
  font-size: var(--type-small);
}
</style>
