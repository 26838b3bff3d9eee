<script setup lang="ts">
import { computed } from 'vue'
import type { Daily, Rule } from '@/api/types'
import MomentToken from '@/components/tokens/MomentToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { gateOf, isNow, partOf, type Part } from '@/lib/keyParts'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'

/** When a key does what a rule says: all day, in a mode, or between two times of day. */
const props = defineProps<{ rule: Rule }>()
const home = useHome()
const { change } = useChanges('rule')

const ALWAYS = 'always'
const HOURS = 'hours'
const OTHER = 'other'
const part = computed(() => partOf(props.rule.gate))
const chosen = computed(() => (part.value.kind === 'mode' ? `mode ${part.value.mode}` : part.value.kind))
const choices = computed(() => [
  { value: ALWAYS, title: 'all day' },
  { value: HOURS, title: 'between …' },
  ...(home.modes?.modes ?? []).map((m) => ({
    value: `mode ${m.id}`,
    title: `in ${m.title}`,
    group: 'Mode of the house',
  })),
  ...(part.value.kind === 'other' ? [{ value: OTHER, title: 'as its rule says' }] : []),
])
/** What somebody begins with who chooses hours. */
const EVENING: Part = {
  kind: 'hours',
  from: { anchor: 'clock', clock: '17:00' },
  to: { anchor: 'clock', clock: '22:00' },
}
function choose(value: string) {
  if (value === OTHER) return
  const next: Part =
    value === ALWAYS
      ? { kind: 'always' }
      : value === HOURS
        ? EVENING
        : { kind: 'mode', mode: value.slice('mode '.length) }
  void put(next)
}
const put = (next: Part) => change(props.rule, { gate: gateOf(next) })
function end(side: 'from' | 'to', at: Daily | undefined) {
  if (part.value.kind === 'hours' && at) void put({ ...part.value, [side]: at })
}
</script>

<template>
  <span class="part" :class="{ now: isNow(rule) }">
    <TokenPicker :model-value="chosen" :choices="choices" :label="`When: ${rule.title}`" @update:model-value="choose" />
    <template v-if="part.kind === 'hours'">
      {{ ' ' }}
      <MomentToken
        end
        :model-value="part.from"
        :label="`From: ${rule.title}`"
        @update:model-value="end('from', $event)"
      />
      and
      <MomentToken end :model-value="part.to" :label="`To: ${rule.title}`" @update:model-value="end('to', $event)" />
    </template>
    <b v-if="part.kind !== 'always' && isNow(rule)" class="mark">now</b>
  </span>
</template>

<style scoped>
.part {
  color: var(--ink-soft);
}
.mark {
  margin-left: var(--space-6);
  color: var(--verdigris);
  font-size: var(--type-small);
}
</style>
