<script setup lang="ts">
import { computed, onMounted, shallowRef } from 'vue'
import { api, ask } from '@/api/client'
import type { Palette, Value } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { useNotices } from '@/stores/notices'
import ColorRow from './ColorRow.vue'

/** The colors that light goes through: those that are usual, a palette's, or one's own. */
const props = defineProps<{
  palette: Value[] | undefined
  /** As they are drawn, be they its own or the usual ones. */
  swatches: string[]
}>()
const emit = defineEmits<{ change: [Value[] | undefined] }>()
const notices = useNotices()

const palettes = shallowRef<Palette[]>([])
onMounted(() => notices.attempt(async () => void (palettes.value = await ask(api.GET('/api/palettes')))))

const colorOf = (swatch: string) => ask(api.GET('/api/color', { params: { query: { swatch } } }))
const take = (swatches: string[]) =>
  notices.attempt(async () => emit('change', await Promise.all(swatches.map(colorOf))))
const USUAL = 'usual'
const choices = computed(() => [
  { value: USUAL, title: 'the usual colors' },
  ...palettes.value.map((p) => ({ value: p.id, title: p.title })),
])
const choose = (id: string) =>
  id === USUAL ? emit('change', undefined) : void take(palettes.value.find((p) => p.id === id)!.colors)
const same = (a: string[], b: string[]) => a.join() === b.join()
const chosen = computed(() => (props.palette ? palettes.value.find((p) => same(p.colors, props.swatches))?.id : USUAL))
const MOST = 12
</script>

<template>
  <span class="colors">
    <TokenPicker
      :model-value="chosen"
      :choices="choices"
      label="Colors"
      empty="your own colors"
      verb
      @update:model-value="choose"
    />
    <ColorRow :colors="swatches" :most="MOST" @change="take" />
  </span>
</template>

<style scoped>
.colors {
  display: inline-flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-8);
  align-items: center;
  vertical-align: middle;
}
</style>
