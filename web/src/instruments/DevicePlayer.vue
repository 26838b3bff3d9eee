<script setup lang="ts">
import { computed } from 'vue'
import type { Device } from '@/api/types'
import { act } from '@/lib/act'
import { useAttempt } from '@/lib/attempt'
import { certaintyOf } from '@/lib/certainty'
import { playingOf, type FaceSize } from '@/lib/faces'
import { useSliding, wantedOf } from '@/lib/sliding'
import PlayerFace from './PlayerFace.vue'

/** The player of a device: what it plays and how loud, and what it can be told. */
const props = defineProps<{ device: Device; size?: FaceSize; disabled?: boolean }>()
const attempt = useAttempt()

const named = (role: string) => props.device.description.properties.find((p) => p.role === role)
const stateOf = (name?: string) => props.device.states.find((s) => s.name === name)
const play = computed(() => playingOf(props.device))
const playState = computed(() => stateOf(play.value?.name))
const playing = computed(() => wantedOf(playState.value) === true)
const volume = computed(() => named('volume'))
const next = computed(() => props.device.description.actions.find((a) => a.role === 'next'))

const write = (property: string, value: number | boolean) => attempt(() => act.write(props.device.id, property, value))
const loud = useSliding(
  () => stateOf(volume.value?.name),
  () => props.device.silent,
  (value) => write(volume.value!.name, value),
  { minimum: () => 0 },
)
</script>

<template>
  <PlayerFace
    :label="device.title"
    :track="stateOf(named('track')?.name)?.text ?? ''"
    :playing="playing"
    :certainty="certaintyOf(playState, device.silent)"
    :skips="!!next"
    :volume="volume && loud.confirmed.value"
    :volume-asked="loud.asked.value"
    :volume-certainty="loud.certainty.value"
    :muted="stateOf(named('mute')?.name)?.value === true"
    :size="size"
    :disabled="disabled"
    @toggle="write(play!.name, !playing)"
    @next="attempt(() => act.ask(device.id, next!.name))"
    @volume="loud.slide"
  />
</template>
