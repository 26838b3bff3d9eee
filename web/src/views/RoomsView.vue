<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import PlainPage from '@/components/page/PlainPage.vue'
import LabelList from '@/components/rooms/LabelList.vue'
import RoomFloors from '@/components/rooms/RoomFloors.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

const home = useHome()
const notices = useNotices()

const title = ref('')
const floor = ref('')
const add = () =>
  notices.attempt(async () => {
    await ask(
      api.POST('/api/rooms', {
        body: { title: title.value.trim(), floor: floor.value.trim() || undefined, order: home.rooms.length },
      }),
    )
    title.value = ''
  })
</script>

<template>
  <PlainPage title="Rooms and floors">
    <template #lead>In this order they stand everywhere: in lists, in pickers, on the household’s panels.</template>
    <div class="columns">
      <section>
        <h2>Floors and rooms</h2>
        <RoomFloors />
        <form class="add" @submit.prevent="add">
          <InputText v-model="title" placeholder="New room" aria-label="New room" maxlength="60" />
          <InputText v-model="floor" placeholder="Floor" aria-label="Floor of the new room" maxlength="60" />
          <Button type="submit" severity="secondary" label="Add room" :disabled="!title.trim()" />
        </form>
      </section>
      <section>
        <h2>Labels</h2>
        <LabelList />
      </section>
    </div>
  </PlainPage>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(420px, 100%), 1fr));
  gap: var(--space-44);
  align-items: start;
}
h2 {
  margin-bottom: var(--space-12);
}
.add {
  display: flex;
  gap: var(--space-8);
  flex-wrap: wrap;
}
</style>
