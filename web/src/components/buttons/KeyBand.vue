<script setup lang="ts">
import { computed } from 'vue'
import type { Device, Rule } from '@/api/types'
import { isNow, partOf, stretchesOf } from '@/lib/keyParts'
import { shortTitle } from '@/lib/keys'
import { useHome } from '@/stores/home'

/** The day as a band, with the hours in which a key does each of its things. */
const props = defineProps<{ device: Device; rules: Rule[] }>()
const home = useHome()

const minute = (at: string | undefined) => {
  if (!at) return undefined
  const [hour, minutes] = home.times.clock(at).split(':').map(Number)
  return hour! * 60 + minutes!
}
const sun = computed(() => ({ rise: minute(home.day?.rise), set: minute(home.day?.set) }))
const rows = computed(() =>
  props.rules.flatMap((rule) => {
    const stretches = stretchesOf(partOf(rule.gate), sun.value)
    return stretches.length ? [{ rule, stretches, title: shortTitle(rule, props.device) }] : []
  }),
)
const DAY = 24 * 60
const now = computed(() => (minute(new Date(home.now).toISOString()) ?? 0) / DAY)
const HOURS = [0, 6, 12, 18]
</script>

<template>
  <div v-if="rows.length" class="band" aria-hidden="true">
    <div v-for="r in rows" :key="r.rule.id" class="row">
      <i
        v-for="s in r.stretches"
        :key="s.from"
        :class="{ now: isNow(r.rule) }"
        :style="{ left: `${s.from * 100}%`, width: `${(s.to - s.from) * 100}%` }"
        >{{ r.title }}</i
      >
    </div>
    <i class="present" :style="{ left: `${now * 100}%` }" />
    <span v-for="h in HOURS" :key="h" class="mono hour" :style="{ left: `${(h / 24) * 100}%` }">{{ h }}</span>
  </div>
</template>

<style scoped>
.band {
  position: relative;
  border: 1px solid var(--rule);
  margin: var(--space-8) 0 var(--space-20);
}
.row {
  position: relative;
  height: 28px;
}
.row i {
  position: absolute;
  inset-block: 2px;
  padding: 0 var(--space-6);
  border: 1px solid var(--edge);
  background: var(--sheet);
  color: var(--ink-soft);
  font-size: var(--type-note);
  font-style: normal;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.row .now {
  background: var(--verdigris-wash);
  border-color: var(--verdigris);
  color: var(--ink);
  font-weight: 600;
}
.present {
  position: absolute;
  inset-block: 0;
  width: 2px;
  background: var(--verdigris);
}
.hour {
  position: absolute;
  top: 100%;
  font-size: var(--type-note);
  color: var(--ink-soft);
}
</style>
