<script setup lang="ts">
import { computed } from 'vue'
import { span } from '@/lib/care'
import { presence, type Reading } from '@/lib/houseNow'
import { useHome } from '@/stores/home'

/** Whether somebody is in a room, or when somebody last was. */
const props = defineProps<{ readings: Reading[] }>()
const home = useHome()
const there = computed(() => presence(props.readings))
const ago = computed(() => (there.value?.at ? (home.now - Date.parse(there.value.at)) / 1000 : 0))
const DAY = 86_400
</script>

<template>
  <b v-if="there?.now" class="now">now</b>
  <span v-else-if="there?.at && ago < DAY" class="soft">{{ span(Math.max(0, ago)) }} ago</span>
</template>

<style scoped>
.now {
  color: var(--verdigris);
  font-size: var(--type-small);
}
.soft {
  font-size: var(--type-small);
}
</style>
