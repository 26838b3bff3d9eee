<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import { useHome } from '@/stores/home'
import ControlFace from './ControlFace.vue'

/** Several values one below the other. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const rows = computed(() =>
  (props.control.values ?? []).map((v) => {
    const device = home.device(v.device)
    const property = home.property(v.device, v.name)
    const several = (props.control.values ?? []).filter((o) => o.device === v.device).length > 1
    return {
      key: `${v.device}~${v.name}`,
      title: !device ? 'gone' : several ? `${device.title}, ${property?.title.toLowerCase()}` : device.title,
      text: home.state(v.device, v.name)?.text ?? '–',
      silent: device?.silent,
    }
  }),
)
</script>

<template>
  <ControlFace grows :title="control.label || 'Values'">
    <template #foot>
      <dl>
        <div v-for="r in rows" :key="r.key" :class="{ silent: r.silent }">
          <dt>{{ r.title }}</dt>
          <dd class="mono">{{ r.text }}</dd>
        </div>
      </dl>
    </template>
  </ControlFace>
</template>

<style scoped>
dl {
  margin: 0;
  flex: 1 1 0;
  min-height: 0;
  overflow-y: auto;
}
dl div {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: var(--space-14);
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
  font-size: var(--type-lead);
}
dd {
  margin: 0;
  font-size: var(--type-title);
  white-space: nowrap;
}
.silent dd {
  color: var(--ink-soft);
  text-decoration: underline dotted;
}
</style>
