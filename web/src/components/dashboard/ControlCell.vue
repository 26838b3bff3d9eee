<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { controlKinds } from './controls'

/** One cell of a board. A tap anywhere in it does its one thing. */
const props = defineProps<{ control: Control; still?: boolean }>()
const component = computed(() => controlKinds[props.control.kind].component)
</script>

<template>
  <component :is="component" :control="control" :still="still" />
</template>
