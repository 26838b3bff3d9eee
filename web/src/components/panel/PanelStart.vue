<script setup lang="ts">
import Button from 'primevue/button'

/** The first touch of a new panel, which a browser asks for before it gives the whole screen, sounds, camera and microphone. */
defineProps<{ title: string }>()
const emit = defineEmits<{ begin: [] }>()
const secure = window.isSecureContext

async function begin() {
  await document.documentElement.requestFullscreen?.().catch(() => undefined)
  emit('begin')
}
</script>

<template>
  <section class="start" aria-labelledby="panel-start">
    <h1 id="panel-start">This tablet is {{ title }}.</h1>
    <p>It shows its dashboards and nothing else, and is left only by a code that its owner shows.</p>
    <p v-if="secure">
      Where you let it, it wakes when somebody comes near or at a noise. What it sees and hears stays in it: the hub is
      told how much moves and how loud it is, no more.
    </p>
    <p v-else class="soft">
      It is reached without encryption, so its browser gives it neither camera nor microphone: it wakes by touch alone.
    </p>
    <Button label="Begin" @click="begin" />
  </section>
</template>

<style scoped>
.start {
  position: absolute;
  inset: 0;
  z-index: 30;
  display: grid;
  align-content: center;
  justify-items: start;
  gap: var(--space-16);
  padding: var(--space-60);
  background: var(--paper);
  font-size: var(--type-title);
}
h1 {
  margin: 0;
}
p {
  margin: 0;
  max-width: 44em;
}
.start :deep(button) {
  min-height: 72px;
  min-width: 200px;
  font-size: var(--type-title);
}
</style>
