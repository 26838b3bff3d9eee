<script setup lang="ts">
import PlainPage from '@/components/page/PlainPage.vue'
import ProgramKeys from '@/components/connection/ProgramKeys.vue'
</script>

<template>
  <PlainPage title="Keys and programs">
    <template #lead>Who may use this home’s devices from outside, each with a key of its own.</template>
    <ProgramKeys />
  </PlainPage>
</template>
