<script setup lang="ts">
import type { Scene } from '@/api/types'
import BoardIcon from '@/components/dashboard/BoardIcon.vue'

/** The icon that the owner gave a scene, in its color; the color alone where there is no icon, and nothing where there is neither. */
const props = defineProps<{ scene: Scene | undefined; size?: number }>()
const tint = () => (props.scene?.color ? { color: `var(--${props.scene.color})` } : undefined)
</script>

<template>
  <BoardIcon v-if="scene?.icon" :name="scene.icon" :size="size ?? 18" :style="tint()" />
  <i v-else-if="scene?.color" class="mark" :style="tint()" aria-hidden="true" />
</template>

<style scoped>
.mark {
  display: inline-block;
  width: 10px;
  height: 10px;
  background: currentcolor;
}
</style>
