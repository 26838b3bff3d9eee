<script setup lang="ts">
import CalendarList from '@/components/household/CalendarList.vue'
import PlainPage from '@/components/page/PlainPage.vue'
</script>

<template>
  <PlainPage title="Calendars">
    <template #lead>Events of calendars elsewhere, which can start rules.</template>
    <CalendarList />
  </PlainPage>
</template>
