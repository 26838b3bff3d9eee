<script setup lang="ts">
import PlainPage from '@/components/page/PlainPage.vue'
import PeopleList from '@/components/people/PeopleList.vue'
import { useSession } from '@/stores/session'

const session = useSession()
</script>

<template>
  <PlainPage title="People">
    <template #lead>Who is let into the home, and what they may see and do there.</template>
    <PeopleList v-if="session.setsUp" />
    <p v-else class="soft">An owner of the home sees to this.</p>
  </PlainPage>
</template>
