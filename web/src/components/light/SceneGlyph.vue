<script setup lang="ts">
import type { Scene } from '@/api/types'
import BoardIcon from '@/components/dashboard/BoardIcon.vue'

/** The icon that the owner gave a scene, in its color; nothing where there is none. */
const props = defineProps<{ scene: Scene | undefined; size?: number }>()
const tint = () => (props.scene?.color ? { color: `var(--${props.scene.color})` } : undefined)
</script>

<template>
  <BoardIcon v-if="scene?.icon" :name="scene.icon" :size="size ?? 18" :style="tint()" />
</template>
