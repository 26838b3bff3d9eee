<script setup lang="ts">
import ModeList from '@/components/household/ModeList.vue'
import PlainPage from '@/components/page/PlainPage.vue'
</script>

<template>
  <PlainPage title="Modes">
    <template #lead
      >What the house as a whole is at, such as In, Asleep or Away. Rules, scenes and schedules can ask for
      it.</template
    >
    <ModeList />
  </PlainPage>
</template>
