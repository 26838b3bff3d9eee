<script setup lang="ts">
import { RouterLink } from 'vue-router'
import EmptyPage from '@/components/page/EmptyPage.vue'
</script>

<template>
  <EmptyPage title="There is nothing at this address">
    <p>
      It may have been removed. Search with <kbd class="mono">Ctrl K</kbd>, or go to
      <RouterLink class="link" to="/devices">the devices</RouterLink>.
    </p>
  </EmptyPage>
</template>
