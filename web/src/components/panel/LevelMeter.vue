<script setup lang="ts">
/** A meter: how much there is now, and from how much on something follows. */
defineProps<{ label: string; level: number; from: number; reason?: string }>()
</script>

<template>
  <div
    class="meter"
    role="meter"
    :aria-label="label"
    :aria-valuenow="Math.round(level)"
    aria-valuemin="0"
    aria-valuemax="100"
  >
    <span class="name">{{ label }}</span>
    <span v-if="reason" class="soft">{{ reason }}</span>
    <template v-else>
      <span class="scale">
        <i class="level" :class="{ over: from > 0 && level >= from }" :style="{ width: `${Math.min(100, level)}%` }" />
        <i v-if="from > 0" class="from" :style="{ left: `${from}%` }" />
      </span>
      <span class="mono">{{ Math.round(level) }} %</span>
      <span class="soft">{{ from > 0 ? `wakes from ${from} %` : 'does not wake it' }}</span>
    </template>
  </div>
</template>

<style scoped>
.meter {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-12);
  align-items: center;
}
.name {
  flex: 0 0 90px;
}
.scale {
  position: relative;
  flex: 0 1 220px;
  height: 18px;
  border: 1px solid var(--edge);
}
.level {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--slate);
}
.level.over {
  background: var(--verdigris);
}
.from {
  position: absolute;
  top: -4px;
  bottom: -4px;
  width: 2px;
  background: var(--ochre);
}
.mono {
  min-width: 44px;
}
</style>
