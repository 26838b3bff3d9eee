<script setup lang="ts">
import { ref } from 'vue'
import type { PanelKey } from '@/api/types'
import { useHeld } from '@/lib/held'

/**
 * The keys of a panel that do something: each says that it goes down and up, as the keys of a wall switch do, and what that means
 * is the hub's to tell.
 */
defineProps<{ keys: PanelKey[] }>()
const emit = defineEmits<{ moved: [key: string, way: 'down' | 'up'] }>()

const key = ref('')
const { down, press, lift } = useHeld(
  () => undefined,
  (way) => emit('moved', key.value, way === 'down' ? 'down' : 'up'),
)
function touch(name: string) {
  lift() // of another finger
  key.value = name
  press()
}
</script>

<template>
  <div class="keys" role="group" aria-label="Keys">
    <button
      v-for="k in keys"
      :key="k.name"
      type="button"
      class="plain key"
      :class="{ down: down && key === k.name }"
      @pointerdown="touch(k.name)"
      @keydown.space.enter.prevent="$event.repeat || touch(k.name)"
      @keyup.space.enter.prevent="lift"
      @contextmenu.prevent
    >
      {{ k.sign }}
    </button>
  </div>
</template>

<style scoped>
.keys {
  grid-row: 3;
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: minmax(0, 1fr);
  gap: var(--space-10);
  padding: var(--space-10) var(--space-26);
  border-top: 1px solid var(--rule);
}
.key {
  min-height: 64px;
  padding: var(--space-4) var(--space-10);
  border: 1px solid var(--edge);
  border-bottom-width: 4px;
  border-radius: var(--radius);
  background: var(--sheet);
  font-size: var(--type-title);
  text-align: center;
  overflow-wrap: anywhere;
  touch-action: none;
}
.down {
  border-bottom-width: 1px;
  background: var(--verdigris-wash);
}
@media (max-width: 620px) {
  .keys {
    padding: var(--space-8);
    gap: var(--space-6);
  }
  .key {
    font-size: var(--type-text);
  }
}
</style>
