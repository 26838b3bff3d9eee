<script setup lang="ts">
import { api, ask } from '@/api/client'
import type { Property } from '@/api/types'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import { lampColors } from '@/lib/lampColors'

/** The colors that a lamp is often set to, as keys, and one to choose any. */
const props = defineProps<{
  label: string
  device: string
  property: Pick<Property, 'name'>
  /** The color that it has, as it is drawn. */
  swatch?: string
  disabled?: boolean
}>()
const attempt = useAttempt()

const choose = (swatch: string) =>
  attempt(async () => {
    const value = await ask(api.GET('/api/color', { params: { query: { swatch } } }))
    await act.write(props.device, props.property.name, value)
  })
</script>

<template>
  <span class="colors" role="group" :aria-label="`${label}, color`">
    <button
      v-for="c in lampColors"
      :key="c.swatch"
      type="button"
      class="plain key"
      :style="{ '--swatch': c.swatch }"
      :aria-label="c.title"
      :title="c.title"
      :disabled="disabled"
      @click="choose(c.swatch)"
    />
    <label class="key any" :style="{ '--swatch': swatch ?? 'transparent' }">
      <input
        type="color"
        :value="swatch ?? lampColors[0]!.swatch"
        :aria-label="`${label}: any color`"
        :disabled="disabled"
        @change="choose(($event.target as HTMLInputElement).value)"
      />
    </label>
  </span>
</template>

<style scoped>
.colors {
  display: flex;
  gap: var(--space-6);
  min-height: 64px;
  align-items: center;
}
.key {
  position: relative;
  flex: 1 1 0;
  min-width: 0;
  height: 64px;
  display: flex;
  align-items: center;
}
.key::before {
  content: '';
  width: 100%;
  height: 34px;
  background: var(--swatch);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
}
.any::before {
  border-width: 2px;
  border-color: var(--ink);
}
.any input {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  opacity: 0;
  cursor: pointer;
}
/* What cannot be chosen now is a dotted line in its color. */
.key:disabled::before,
.any:has(:disabled)::before {
  height: 0;
  border: 0;
  border-bottom: 3px dotted var(--swatch);
  background: none;
}
.any input:disabled {
  cursor: default;
}
.key:focus-visible,
.any:focus-within {
  outline: 2px solid var(--verdigris);
}
</style>
