<script setup lang="ts">
import { computed } from 'vue'
import type { Control, Value } from '@/api/types'
import RoomLightFace from '@/instruments/RoomLightFace.vue'
import RuleKey from '@/instruments/RuleKey.vue'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import type { LightDeed } from '@/lib/lightVerbs'
import { useHome } from '@/stores/home'
import { useCell } from '../cell'
import ControlFace from './ControlFace.vue'

/** The light of a room: all its lamps dimmed together; large, its scenes stepped through, and warmer and cooler. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const attempt = useAttempt()
const { face, still } = useCell()

const light = computed(() => home.lights.find((l) => l.id === props.control.light))
const title = computed(() => props.control.label || light.value?.title || 'Nothing')
const figure = computed(() => (!light.value ? 'gone' : light.value.on ? `${Math.round(light.value.level)} %` : 'off'))
const reason = computed(() => {
  if (!light.value) return 'It is no longer in the home'
  const scene = home.scene(light.value.scene)?.title
  if (scene) return light.value.differs.length ? `${scene}, changed since` : scene
  return light.value.on ? `${light.value.on} of ${light.value.members.length} on` : 'light of a room'
})
const press = (verb: LightDeed, value?: Value) => attempt(() => act.light(props.control.light!, verb, value))
const toggle = () =>
  light.value?.on ? press('off') : press(steps.value ? 'next' : 'level', steps.value ? undefined : 100)
const steps = computed(() => !!light.value?.scenes.some((s) => !s.skip))
const toned = computed(() => light.value?.members.some((m) => m.does === 'white' || m.does === 'color'))
const keys = computed(() => [
  ...(steps.value ? [{ verb: 'next' as const, title: 'Next scene' }] : []),
  ...(toned.value
    ? [
        { verb: 'whiteBy' as const, title: 'Warmer', value: -1 },
        { verb: 'whiteBy' as const, title: 'Cooler', value: 1 },
      ]
    : []),
])
</script>

<template>
  <ControlFace :title="title" :figure="figure" :on="!!light?.on" :acts="!!light" @tap="toggle">
    <template #reason>{{ reason }}</template>
    <template v-if="light" #foot>
      <RoomLightFace :light="light" size="panel" plain :still="still" />
      <div v-if="face === 'large'" class="keys">
        <RuleKey
          v-for="k in keys"
          :key="k.title"
          :label="`${title}: ${k.title}`"
          :verb="k.title"
          size="panel"
          :still="still"
          @tap="press(k.verb, k.value)"
        />
      </div>
    </template>
  </ControlFace>
</template>

<style scoped>
.keys {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-10);
}
</style>
