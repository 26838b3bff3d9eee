<script setup lang="ts">
import PlainPage from '@/components/page/PlainPage.vue'
import RemovedLately from '@/components/documents/RemovedLately.vue'
</script>

<template>
  <PlainPage title="Recently removed">
    <template #lead>Brought back, it is used again wherever it was used before.</template>
    <RemovedLately />
  </PlainPage>
</template>
