<script setup lang="ts">
import Button from 'primevue/button'
import type { BenchAct, BenchNode, BenchState } from '@/api/types'
import ShutterWindow from '@/instruments/ShutterWindow.vue'
import HeldKey from './HeldKey.vue'

/** A shutter as it really stands, with its two buttons at the wall, its fuse and its relay's log. */
type Really = NonNullable<BenchState['nodes'][number]['shutter']>
const props = defineProps<{ node: BenchNode; shutter: Really }>()
const emit = defineEmits<{ act: [act: BenchAct] }>()

const wall = (button: number, gesture: 'down' | 'up') =>
  emit('act', { what: 'wall', node: props.node.node, button, gesture })
const names = ['Upper', 'Lower']
</script>

<template>
  <div class="bench-shutter">
    <ShutterWindow
      :place="shutter.place"
      :moving="shutter.running > 0 ? 'up' : shutter.running < 0 ? 'down' : undefined"
    />
    <div>
      <p class="row">
        <span class="soft small">At the wall</span>
        <HeldKey
          v-for="(name, b) in names"
          :key="name"
          :label="`${name} button`"
          :of="node.label"
          @down="wall(b, 'down')"
          @up="wall(b, 'up')"
        />
      </p>
      <p class="row">
        <span class="mono small">{{ Math.round(shutter.place) }} % open</span>
        <Button
          size="small"
          severity="secondary"
          :label="shutter.dark ? 'Put the fuse in' : 'Take the fuse out'"
          :aria-label="`${shutter.dark ? 'Put the fuse in' : 'Take the fuse out'}: ${node.label}`"
          @click="emit('act', { what: 'fuse', node: node.node, on: shutter.dark })"
        />
        <Button
          v-if="shutter.burnt"
          size="small"
          label="Put in a new relay"
          :aria-label="`Put in a new relay: ${node.label}`"
          @click="emit('act', { what: 'renew', node: node.node })"
        />
      </p>
      <p v-if="shutter.burnt" class="burnt" role="alert">The relay has burnt out.</p>
      <ol v-if="shutter.log.length" class="mono small log">
        <li v-for="(line, i) in shutter.log.slice(-4)" :key="i">{{ line }}</li>
      </ol>
    </div>
  </div>
</template>

<style scoped>
.bench-shutter {
  display: flex;
  gap: var(--space-16);
  padding: var(--space-6) 0 var(--space-4);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6);
  align-items: center;
  margin: 0 0 var(--space-4);
}
.small {
  font-size: var(--type-small);
}
.burnt {
  color: var(--ember);
  font-weight: 650;
}
.log {
  margin: var(--space-4) 0 0;
  padding: 0;
  list-style: none;
}
</style>
