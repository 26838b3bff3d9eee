<script setup lang="ts">
import { computed } from 'vue'

/** An icon of the shipped set, in the color of the words around it. One that does not exist is a dotted square. */
const props = defineProps<{ name: string; size?: number }>()
const style = computed(() => ({
  '--size': `${props.size ?? 22}px`,
  '--icon': `url("/icons/${encodeURIComponent(props.name)}.svg")`,
}))
</script>

<template>
  <span class="icon" :style="style" aria-hidden="true" />
</template>

<style scoped>
.icon {
  display: inline-block;
  flex: none;
  width: var(--size);
  height: var(--size);
  vertical-align: -0.18em;
  background: currentcolor;
  mask: var(--icon) center / contain no-repeat;
}
</style>
