<script setup lang="ts">
import NoticeList from '@/components/household/NoticeList.vue'
import PlainPage from '@/components/page/PlainPage.vue'
</script>

<template>
  <PlainPage title="Messages">
    <template #lead>What rules told the household, and what was answered.</template>
    <NoticeList />
  </PlainPage>
</template>
