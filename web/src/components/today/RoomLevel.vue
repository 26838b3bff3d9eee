<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import { useHome } from '@/stores/home'

/** How bright a room is as one, which scene that is, and all of it off by a press. */
const props = defineProps<{ room: string }>()
const home = useHome()
const attempt = useAttempt()
const light = computed(() => home.lights.find((l) => l.rooms.length === 1 && l.rooms[0] === props.room))
const scene = computed(() => (light.value?.differs.length ? '' : (home.scene(light.value?.scene)?.title ?? '')))
</script>

<template>
  <span v-if="light?.on" class="level">
    <RouterLink class="named" :to="`/lights/${light.id}`" :title="`The light of ${light.title}`">
      <template v-if="scene">{{ scene }}</template>
      <span v-else class="mono">{{ Math.round(light.level) }} %</span>
    </RouterLink>
    <button
      v-if="light.on > 1"
      type="button"
      class="plain link"
      :aria-label="`${light.title}: all off`"
      @click="attempt(() => act.light(light!.id, 'off'))"
    >
      off
    </button>
  </span>
</template>

<style scoped>
.level {
  display: inline-flex;
  gap: var(--space-8);
  align-items: baseline;
  font-size: var(--type-small);
}
.named {
  font-weight: 400;
}
</style>
