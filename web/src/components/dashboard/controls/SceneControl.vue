<script setup lang="ts">
import { computed } from 'vue'
import type { Control } from '@/api/types'
import SceneGlyph from '@/components/light/SceneGlyph.vue'
import SceneColors from '@/instruments/SceneColors.vue'
import { act } from '@/lib/act'
import { useAsked } from '@/lib/asked'
import { useHome } from '@/stores/home'
import ControlFace from './ControlFace.vue'

/** Applies a scene, and shows the colors it makes and whether it is in effect. */
const props = defineProps<{ control: Control }>()
const home = useHome()
const { asked, attempt } = useAsked()

const scene = computed(() => home.scene(props.control.scene))
const figure = computed(() => (!scene.value ? 'gone' : scene.value.inEffect ? 'on' : ''))
</script>

<template>
  <ControlFace
    :title="control.label || scene?.title || 'Nothing'"
    :figure="figure"
    :on="scene?.inEffect"
    :pending="asked"
    :acts="!!scene"
    @tap="attempt(() => act.pressScene(scene!))"
  >
    <template v-if="scene?.icon || scene?.color" #icon><SceneGlyph :scene="scene" :size="24" /></template>
    <template #reason>{{ !scene ? 'It is no longer in the home' : scene.laid ? 'laid on top' : 'scene' }}</template>
    <template v-if="scene?.lights.length" #foot><SceneColors :scene="scene" size="panel" /></template>
  </ControlFace>
</template>
