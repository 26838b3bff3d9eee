<script setup lang="ts">
import { computed } from 'vue'
import { running } from '@/lib/format'
import { useHome } from '@/stores/home'

/** How far a running "for at least" has come. */
const props = defineProps<{ since: string | undefined; deadline: string | undefined }>()
const home = useHome()

const whole = computed(() =>
  props.since && props.deadline ? (new Date(props.deadline).getTime() - new Date(props.since).getTime()) / 1000 : 0,
)
const passed = computed(() =>
  Math.min(whole.value, Math.max(0, props.since ? (home.now - new Date(props.since).getTime()) / 1000 : 0)),
)
</script>

<template>
  <span
    v-if="whole > 0"
    class="bar"
    role="progressbar"
    :aria-valuenow="Math.round(passed)"
    aria-valuemin="0"
    :aria-valuemax="whole"
    aria-label="Running for"
  >
    <i :style="{ width: (passed / whole) * 100 + '%' }" />
    <b class="mono">{{ running(passed) }} of {{ running(whole) }}</b>
  </span>
</template>

<style scoped>
.bar {
  position: relative;
  display: block;
  height: 18px;
  max-width: 320px;
  border-top: 3px solid var(--rule);
  margin-top: var(--space-2);
}
i {
  position: absolute;
  top: -3px;
  left: 0;
  height: 3px;
  background: var(--ochre);
}
b {
  font-size: var(--type-note);
  font-weight: 500;
  color: var(--ochre);
  line-height: 18px;
  display: block;
}
</style>
