<script setup lang="ts">
import type { Stage } from '@/api/types'
import ExpressionToken from '@/components/tokens/ExpressionToken.vue'
import NumberToken from '@/components/tokens/NumberToken.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import CurveDraw from './CurveDraw.vue'

/** A stage of a link in words, each of which can be changed. */
const props = defineProps<{ stage: Stage }>()
const emit = defineEmits<{ change: [Partial<Stage>] }>()

const curves: { value: NonNullable<Stage['curve']>; title: string }[] = [
  { value: 'straight', title: 'straight' },
  { value: 'eye', title: 'even to the eye' },
  { value: 'points', title: 'by a curve' },
]
const DIAGONAL = [
  { x: 0, y: 0 },
  { x: 1, y: 1 },
]
const bend = (curve: NonNullable<Stage['curve']>) =>
  emit('change', { curve, points: curve === 'points' ? (props.stage.points ?? DIAGONAL) : undefined })
const ends = (of: 'in' | 'out', end: 'from' | 'to', value: number) =>
  emit('change', { [of]: { from: 0, to: 0, ...props.stage[of], [end]: value } })
</script>

<template>
  <span class="words">
    <template v-if="stage.kind === 'changes'"
      >only changes <small class="soft">the same value again is dropped</small></template
    >
    <template v-else-if="stage.kind === 'deadBand'">
      only changes of
      <NumberToken
        :model-value="stage.width"
        label="Smallest change"
        @update:model-value="emit('change', { width: $event })"
      />
      or more
    </template>
    <template v-else-if="stage.kind === 'limit'">
      at most
      <NumberToken
        :model-value="stage.perSecond"
        label="Values a second"
        :maximum="100"
        @update:model-value="emit('change', { perSecond: $event })"
      />
      a second <small class="soft">the last is never lost</small>
    </template>
    <template v-else-if="stage.kind === 'smooth'">
      smoothed over
      <NumberToken
        :model-value="stage.seconds"
        label="Time constant"
        unit="s"
        :maximum="3600"
        @update:model-value="emit('change', { seconds: $event })"
      />
    </template>
    <template v-else-if="stage.kind === 'delay'">
      <NumberToken
        :model-value="stage.seconds"
        label="Delay"
        unit="s"
        :maximum="3600"
        @update:model-value="emit('change', { seconds: $event })"
      />
      later
    </template>
    <template v-else-if="stage.kind === 'map'">
      <NumberToken
        :model-value="stage.in?.from"
        label="Comes in, from"
        @update:model-value="ends('in', 'from', $event)"
      />
      to
      <NumberToken :model-value="stage.in?.to" label="Comes in, to" @update:model-value="ends('in', 'to', $event)" />
      becomes
      <NumberToken
        :model-value="stage.out?.from"
        label="Goes out, from"
        @update:model-value="ends('out', 'from', $event)"
      />
      to
      <NumberToken :model-value="stage.out?.to" label="Goes out, to" @update:model-value="ends('out', 'to', $event)" />,
      <TokenPicker
        :model-value="stage.curve ?? 'straight'"
        :choices="curves"
        label="Curve"
        @update:model-value="bend"
      />
      <CurveDraw
        v-if="stage.curve === 'points'"
        :model-value="stage.points ?? DIAGONAL"
        @update:model-value="emit('change', { points: $event })"
      />
    </template>
    <template v-else-if="stage.kind === 'bounds'">
      from
      <NumberToken :model-value="stage.low ?? 0" label="Least" @update:model-value="emit('change', { low: $event })" />
      to
      <NumberToken :model-value="stage.high ?? 0" label="Most" @update:model-value="emit('change', { high: $event })" />
      and no further
    </template>
    <template v-else-if="stage.kind === 'relative'">
      each step adds
      <NumberToken
        :model-value="stage.step"
        label="What a step adds"
        @update:model-value="emit('change', { step: $event })"
      />, from
      <NumberToken :model-value="stage.low ?? 0" label="Least" @update:model-value="emit('change', { low: $event })" />
      to
      <NumberToken :model-value="stage.high ?? 0" label="Most" @update:model-value="emit('change', { high: $event })" />
    </template>
    <template v-else-if="stage.kind === 'zeroOff'">
      up to
      <NumberToken
        :model-value="stage.below ?? 0"
        label="What counts as off"
        @update:model-value="emit('change', { below: $event })"
      />
      is off
    </template>
    <template v-else>
      becomes
      <ExpressionToken
        :model-value="stage.text"
        label="Formula"
        empty="write a formula"
        help="coming is the value that comes in."
        @update:model-value="emit('change', { text: $event })"
      />
    </template>
  </span>
</template>

<style scoped>
.words small {
  display: block;
  font-size: var(--type-note);
}
</style>
