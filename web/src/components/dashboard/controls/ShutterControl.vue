<script setup lang="ts">
import { IconChevronDown, IconChevronUp, IconMinus } from '@tabler/icons-vue'
import { computed } from 'vue'
import type { Control } from '@/api/types'
import ShutterWindow from '@/instruments/ShutterWindow.vue'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import { goalOf, shutterOf } from '@/lib/shutters'
import { useCell } from '../cell'
import ControlFace from './ControlFace.vue'
import DeviceReason from './DeviceReason.vue'
import { useDeviceControl } from './useDeviceControl'

/** A window with its slats where they are: up, stop, down. */
const props = defineProps<{ control: Control }>()
const { device, property, state, title, standing, write } = useDeviceControl(props)
const { still } = useCell()
const attempt = useAttempt()
const shutter = computed(() => shutterOf(state.value))
const stop = computed(() => device.value?.description.actions.find((a) => a.role === 'stop'))
</script>

<template>
  <ControlFace grows v-bind="standing">
    <template #reason>
      <template v-if="shutter.moving">{{ shutter.moving === 'up' ? 'opening' : 'shutting' }} · </template>
      <DeviceReason :device="device" :property="property" :state="state" />
    </template>
    <template v-if="device && property" #foot>
      <div class="bar">
        <ShutterWindow
          class="window"
          :label="`${title}, ${state?.text ?? 'not heard from yet'}`"
          :place="shutter.place"
          :known="shutter.known"
          :moving="shutter.moving"
          :goal="goalOf(state)"
          size="panel"
        />
        <span class="keys">
          <button
            type="button"
            class="plain key"
            :aria-label="`${title}: up`"
            :disabled="still"
            @click="write(property.maximum)"
          >
            <IconChevronUp :size="30" stroke-width="1.5" />
          </button>
          <button
            v-if="stop"
            type="button"
            class="plain key"
            :aria-label="`${title}: stop`"
            :disabled="still"
            @click="attempt(() => act.ask(device!.id, stop!.name))"
          >
            <IconMinus :size="30" stroke-width="1.5" />
          </button>
          <button
            type="button"
            class="plain key"
            :aria-label="`${title}: down`"
            :disabled="still"
            @click="write(property.minimum)"
          >
            <IconChevronDown :size="30" stroke-width="1.5" />
          </button>
        </span>
      </div>
    </template>
  </ControlFace>
</template>

<style scoped>
.bar {
  display: flex;
  flex: 1 1 0;
  gap: var(--space-14);
  align-items: stretch;
  justify-content: space-between;
  min-height: 64px;
}
svg.window {
  width: auto;
  height: 100%;
  max-width: 50%;
  min-height: 0;
}
.keys {
  display: flex;
  flex-flow: column wrap;
  gap: var(--space-6);
  align-content: flex-end;
  justify-content: flex-end;
  flex: 1;
  min-height: 0;
  max-height: 100%;
}
.key {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  width: 72px;
  height: 64px;
  border: 1px solid var(--edge);
  border-radius: var(--radius);
}
.key:active {
  border-color: var(--verdigris);
  color: var(--verdigris);
}
</style>
