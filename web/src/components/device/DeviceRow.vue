<script setup lang="ts">
import { computed } from 'vue'
import type { Device } from '@/api/types'
import { mainState } from '@/lib/devices'
import { useHome } from '@/stores/home'
import ListRow from '@/components/page/ListRow.vue'
import ReasonLine from '@/components/marks/ReasonLine.vue'
import StateMark from '@/components/marks/StateMark.vue'

/** A device in a list: its mark, its main value, and why that is so. A lamp is switched by its pendant, which stands over the row. */
const props = defineProps<{ device: Device; to: string; chosen: boolean }>()
const home = useHome()
const shown = computed(() => mainState(props.device))
</script>

<template>
  <ListRow :to="to" :chosen="chosen">
    <template #mark><StateMark v-if="!device.light" :state="shown" :silent="device.silent" /></template>
    {{ device.title }}
    <template #value> <small v-if="shown?.name === 'battery'" class="soft">battery </small>{{ shown?.text }} </template>
    <template #reason>
      <template v-if="device.silent">{{ device.silentReason }}</template>
      <ReasonLine v-else-if="shown?.holders.length" :state="shown" />
      <template v-else-if="shown?.changedAt">since {{ home.times.since(shown.changedAt, home.now) }}</template>
    </template>
  </ListRow>
</template>
