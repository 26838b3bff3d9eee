<script setup lang="ts">
import Dialog from 'primevue/dialog'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Control, Device } from '@/api/types'
import HoldersPanel from '@/components/device/HoldersPanel.vue'
import ReadingLine from '@/instruments/ReadingLine.vue'
import { useHome } from '@/stores/home'

/** Why what a control shows is so: who holds it, what lies below, and how it went. */
const props = defineProps<{ control: Control; device: Device }>()
const emit = defineEmits<{ close: [] }>()
const home = useHome()
const property = computed(() => home.property(props.control.device, props.control.property))
const state = computed(() => home.state(props.control.device, props.control.property))
</script>

<template>
  <Dialog
    :visible="true"
    modal
    dismissable-mask
    class="explained"
    :header="control.label || device.title"
    @update:visible="emit('close')"
  >
    <template v-if="property && state">
      <p class="now">
        {{ property.title }} <b class="mono">{{ state.text }}</b>
      </p>
      <HoldersPanel v-if="property.writable" :device="device.id" :property="property" :state="state" />
      <p v-else-if="state.changedAt" class="soft">since {{ home.times.since(state.changedAt, home.now) }}</p>
      <ReadingLine
        v-if="property.type === 'number'"
        :device="device.id"
        :property="property.name"
        :hours="24"
        size="panel"
      />
    </template>
    <p v-else class="soft">It is no longer there.</p>
    <p class="foot">
      <RouterLink class="link" :to="`/devices/${device.id}`" @click="emit('close')"
        >Go to {{ device.title }}</RouterLink
      >
    </p>
  </Dialog>
</template>

<style scoped>
.now {
  font-size: var(--type-head);
}
.foot {
  margin-top: var(--space-16);
}
:global(.explained) {
  width: min(560px, 94vw);
}
</style>
