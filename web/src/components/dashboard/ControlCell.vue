<script setup lang="ts">
import Button from 'primevue/button'
import { useTimeoutFn } from '@vueuse/core'
import { computed, defineAsyncComponent, provide, ref, shallowRef, toRef } from 'vue'
import { useRouter } from 'vue-router'
import { reasonOf } from '@/api/client'
import type { Control, Touch } from '@/api/types'
import { attemptKey } from '@/lib/attempt'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'
import { cellKey, faceFor } from './cell'
import { components } from './controls'
import { doTouch } from './touch'

/** One control of a dashboard: its instrument, what touches of it do, what failed, and the question before what is risky. */
const props = defineProps<{ control: Control; still?: boolean }>()
const home = useHome()
const session = useSession()
const router = useRouter()
const ExplainControl = defineAsyncComponent(() => import('./ExplainControl.vue'))

const component = computed(() => components[props.control.kind])
const device = computed(() => home.device(props.control.device))
const title = computed(
  () =>
    props.control.label ||
    device.value?.title ||
    home.scene(props.control.scene)?.title ||
    home.rule(props.control.rule)?.title ||
    'This',
)

/** What failed last, and how to try it again. */
const problem = shallowRef<{ text: string; again: () => Promise<unknown> }>()
async function attempt(action: () => Promise<unknown>) {
  problem.value = undefined
  try {
    await action()
    return true
  } catch (error) {
    problem.value = { text: reasonOf(error), again: () => attempt(action) }
    return false
  }
}
provide(attemptKey, attempt)

const explained = ref(false)
/** Whether it can be said why it is so, to whoever looks. */
const explains = computed(() => !!props.control.property && !session.guest && !session.panel)
function deed(touch: 'tap' | 'double' | 'hold'): (() => void) | undefined {
  if (props.still) return undefined
  const chosen = props.control[touch]
  if (chosen) return chosen.do === 'nothing' ? () => {} : () => perform(chosen)
  if (touch === 'hold' && explains.value) return () => (explained.value = true)
  return undefined
}
function perform(touch: Touch) {
  if (touch.do === 'explain') explained.value = true
  else void attempt(() => doTouch(touch, props.control, { home, router }))
}

/** For how long it can be used after somebody said that they mean it, in ms. */
const MEANT_FOR = 10_000
const meant = ref(false)
const asking = ref(false)
const forgotten = useTimeoutFn(() => (meant.value = asking.value = false), MEANT_FOR, { immediate: false })
const guarded = computed(() => props.control.ask && !props.still && !meant.value)
let ownTap: (() => void) | undefined
function question() {
  asking.value = true
  forgotten.start()
}
function go() {
  asking.value = false
  meant.value = true
  forgotten.start()
  ;(deed('tap') ?? ownTap)?.()
}

provide(cellKey, {
  control: toRef(props, 'control'),
  face: computed(() => faceFor(props.control)),
  still: computed(() => !!props.still),
  deed,
  taps: (tap) => (ownTap = tap),
})

const style = computed(() => ({
  '--opaque': `${100 - (props.control.clear ?? 0)}%`,
  '--accent': props.control.color ? `var(--${props.control.color})` : 'var(--ink)',
}))
</script>

<template>
  <div class="control" :style="style" :class="{ guarded }">
    <component :is="component" v-if="component" :control="control" :inert="guarded || asking || undefined" />
    <p v-else class="unknown soft">This hub knows no control “{{ control.kind }}”.</p>
    <button v-if="guarded && !asking" type="button" class="plain guard" :aria-label="title" @click="question" />
    <div v-if="asking" class="over" role="alertdialog" :aria-label="`Use ${title}?`">
      <b>Use {{ title }}?</b>
      <span class="answers">
        <Button label="Yes" @click="go" />
        <Button severity="secondary" label="Leave it" @click="asking = false" />
      </span>
    </div>
    <div v-else-if="problem" class="problem" role="alert">
      <span>{{ problem.text }}</span>
      <span class="answers">
        <Button severity="secondary" label="Again" @click="problem.again" />
        <Button severity="secondary" label="OK" @click="problem = undefined" />
      </span>
    </div>
    <ExplainControl v-if="explained && device" :control="control" :device="device" @close="explained = false" />
  </div>
</template>

<style scoped>
.control {
  position: relative;
  height: 100%;
  min-width: 0;
}
.unknown {
  padding: var(--space-14);
}
.guard,
.over {
  position: absolute;
  inset: 0;
  z-index: 1;
}
.over {
  display: flex;
  flex-direction: column;
  justify-content: center;
  gap: var(--space-10);
  padding: var(--space-10) var(--space-14);
  background: var(--sheet);
  border-left: 5px solid var(--ochre);
  font-size: var(--type-lead);
  overflow: auto;
}
.problem {
  position: absolute;
  inset: auto 0 0;
  z-index: 1;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: var(--space-6) var(--space-12);
  padding: var(--space-6) var(--space-14);
  background: var(--sheet);
  border-left: 5px solid var(--ember);
  border-top: 1px solid var(--ember);
  color: var(--ember);
  font-size: var(--type-small);
}
.answers {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
}
.answers :deep(button) {
  min-height: var(--touch);
}
.over :deep(button) {
  min-height: 52px;
}
</style>
