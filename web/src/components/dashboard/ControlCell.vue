<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import Slider from 'primevue/slider'
import { computed, ref, watch } from 'vue'
import type { Control } from '@/api/types'
import { act } from '@/lib/act'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import ReasonLine from '@/components/marks/ReasonLine.vue'

/** One cell of a board. A tap anywhere in it does its one thing; a lamp's bar dims. */
const props = defineProps<{ control: Control; still?: boolean }>()
const home = useHome()
const notices = useNotices()

const SETTLE = 200
const device = computed(() => home.device(props.control.device))
const property = computed(() => home.property(props.control.device, props.control.property))
const state = computed(() => home.state(props.control.device, props.control.property))
const scene = computed(() => home.scene(props.control.scene))
const rule = computed(() => home.rule(props.control.rule))
const gone = computed(() => !device.value && !scene.value && !rule.value)
const title = computed(
  () => props.control.label || device.value?.title || scene.value?.title || rule.value?.title || 'Nothing',
)

const wanted = computed(() => (state.value?.certainty === 'pending' ? state.value.target : state.value?.value))
const dims = computed(() => props.control.kind === 'lamp' && property.value?.type === 'number')
const on = computed(() => {
  if (props.control.kind === 'scene') return !!scene.value?.inEffect
  if (props.control.kind === 'rule')
    return ['holding', 'ending'].includes(rule.value?.state.phase ?? '') || !!rule.value?.state.frames?.length
  return typeof wanted.value === 'number' ? wanted.value > 0 && dims.value : wanted.value === true
})
const percent = ref(0)
const lastOn = ref(100)
const settled = useTimeoutFn(() => write(percent.value), SETTLE, { immediate: false })
watch(
  wanted,
  (now) => {
    if (typeof now !== 'number') return
    if (!settled.isPending.value) percent.value = now
    if (now > 0) lastOn.value = now
  },
  { immediate: true },
)

const asked = ref(false)
async function attempt(action: () => Promise<unknown>) {
  asked.value = true
  await notices.attempt(action)
  asked.value = false
}
const { control } = props
function tap() {
  if (props.still || gone.value) return
  if (control.kind === 'scene') void attempt(() => act.applyScene(control.scene!))
  else if (control.kind === 'rule' && !rule.value?.whenever) void attempt(() => act.runRule(control.rule!))
  else if (control.kind === 'lamp') write(dims.value ? (on.value ? 0 : lastOn.value) : !on.value)
}
function write(value: number | boolean) {
  void attempt(() => act.write(control.device!, control.property!, value))
}
function dim(value: number | number[]) {
  percent.value = Array.isArray(value) ? value[0]! : value
  settled.start()
}

const acts = computed(
  () => control.kind === 'lamp' || control.kind === 'scene' || (control.kind === 'rule' && !rule.value?.whenever),
)
const figure = computed(() => {
  if (gone.value) return 'gone'
  if (control.kind === 'scene') return scene.value?.inEffect ? 'on' : 'apply'
  if (control.kind === 'rule') {
    if (rule.value?.state.problems.length || rule.value?.state.stopped) return 'stopped'
    if (!rule.value?.enabled) return 'off'
    if (!rule.value.whenever) return on.value ? 'running' : 'run'
    return { idle: 'waiting', armed: 'about to', holding: 'holding', ending: 'letting go' }[rule.value.state.phase]
  }
  return state.value?.certainty === 'pending' ? (state.value.targetText ?? '') : (state.value?.text ?? '–')
})
/** The figure large, its unit small. */
const parts = computed(() => /^(-?[\d.]+) (\D+)$/.exec(figure.value) ?? [figure.value, figure.value, ''])
const pending = computed(() => state.value?.certainty === 'pending' || asked.value)
const failed = computed(
  () => state.value?.certainty === 'failed' || (control.kind === 'rule' && figure.value === 'stopped'),
)
const swatch = computed(() => {
  const tones = device.value?.states.filter((s) => s.swatch) ?? []
  return tones.sort((a, b) => (b.changedAt ?? '').localeCompare(a.changedAt ?? ''))[0]?.swatch
})
</script>

<template>
  <article class="cell" :aria-label="title" :class="{ failed, silent: device?.silent }">
    <component
      :is="acts && !still ? 'button' : 'div'"
      class="plain face"
      :aria-pressed="acts && !still ? on : undefined"
      @click="tap"
    >
      <span class="top">
        <b class="title">{{ title }}</b>
        <span class="figure mono" :class="{ on, pending }"
          >{{ parts[1] }}<small v-if="parts[2]"> {{ parts[2] }}</small></span
        >
      </span>
      <span class="reason">
        <template v-if="gone">It is no longer in the home</template>
        <template v-else-if="device?.silent">{{ device.silentReason }}</template>
        <ReasonLine v-else-if="state && property?.writable" :state="state" />
        <template v-else-if="state?.changedAt">since {{ home.times.since(state.changedAt, home.now) }}</template>
        <template v-else-if="rule?.state.problems[0]">{{ rule.state.problems[0].message }}</template>
        <template v-else-if="rule?.state.lastBegan"
          >last {{ home.times.since(rule.state.lastBegan, home.now) }}</template
        >
        <template v-else-if="scene">scene</template>
      </span>
    </component>
    <div v-if="dims" class="bar" :class="{ pending }">
      <i v-if="swatch" class="swatch" :style="{ background: swatch }" aria-hidden="true" />
      <Slider
        class="slider"
        :model-value="percent"
        :min="property!.minimum"
        :max="property!.maximum"
        :disabled="still"
        :aria-label="`${title}, ${property!.title.toLowerCase()}`"
        @update:model-value="dim"
      />
    </div>
    <div v-else-if="control.kind !== 'value'" class="band" :class="{ on, pending, failed }" aria-hidden="true" />
  </article>
</template>

<style scoped>
.cell {
  height: 100%;
  display: flex;
  flex-direction: column;
  background: var(--paper);
  padding: 14px 18px 16px;
  min-width: 0;
  overflow: hidden;
  container-type: inline-size;
}
.face {
  flex: 1;
  display: flex;
  flex-direction: column;
  gap: 2px;
  text-align: left;
  min-height: 64px;
  width: 100%;
}
div.face {
  cursor: default;
}
.top {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: baseline;
}
.title {
  font-size: 18px;
  font-weight: 650;
  line-height: 1.25;
  overflow-wrap: anywhere;
}
.figure {
  font-size: 28px;
  line-height: 1.1;
  white-space: nowrap;
  color: var(--ink-soft);
}
.figure small {
  font-size: 15px;
  margin-left: 5px;
}
@container (max-width: 230px) {
  .top {
    flex-direction: column;
    gap: 0;
  }
}
.figure.on {
  color: var(--verdigris);
}
.figure.pending {
  color: var(--ochre);
}
.reason {
  font-size: 13.5px;
  color: var(--ink-soft);
}
.bar {
  display: flex;
  gap: 14px;
  align-items: center;
  min-height: 64px;
  padding-inline: 6px;
}
.slider {
  flex: 1;
}
.bar.pending :deep(.p-slider-range) {
  background: repeating-linear-gradient(90deg, var(--ochre) 0 6px, transparent 6px 10px);
}
.swatch {
  width: 18px;
  height: 18px;
  border: 1px solid var(--edge);
  border-radius: 2px;
}
.band {
  height: 12px;
  border: 1.5px solid var(--edge);
  border-radius: 1px;
}
.band.on {
  background: var(--verdigris);
  border-color: var(--verdigris);
}
.band.pending {
  border: 1.5px dashed var(--ochre);
}
.band.failed {
  border-color: var(--ember);
}
.failed .figure {
  color: var(--ember);
}
.silent {
  background: repeating-linear-gradient(45deg, var(--rule) 0 1px, var(--paper) 1px 9px);
}
</style>
