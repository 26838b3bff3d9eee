<script setup lang="ts">
import { IconArrowRight } from '@tabler/icons-vue'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { Control } from '@/api/types'
import { useHome } from '@/stores/home'
import ControlFace from './ControlFace.vue'

/** Goes to another dashboard. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const router = useRouter()
const target = computed(() => home.dashboards.find((d) => d.id === props.control.dashboard))
const lamps = computed(() => {
  const ids = new Set(target.value?.controls.filter((c) => c.kind === 'lamp').map((c) => c.device))
  return home.devices.filter((d) => ids.has(d.id) && d.light)
})
const on = computed(
  () =>
    lamps.value.filter((d) => {
      const value = d.states.find((s) => s.name === d.light)?.value
      return value === true || (typeof value === 'number' && value > 0)
    }).length,
)
const go = () => router.push(`/panel/${props.control.dashboard}`)
</script>

<template>
  <ControlFace :title="control.label || target?.title || 'Nothing'" :acts="!!target" @tap="go">
    <template #reason>
      <template v-if="!target">This dashboard is not there for you</template>
      <template v-else-if="lamps.length">{{ on }} of {{ lamps.length }} lamps on</template>
      <template v-else>dashboard</template>
    </template>
    <template v-if="target" #foot><IconArrowRight class="arrow" :size="40" stroke-width="1.25" /></template>
  </ControlFace>
</template>

<style scoped>
.arrow {
  color: var(--verdigris);
}
</style>
