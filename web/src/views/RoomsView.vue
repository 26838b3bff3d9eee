<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
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
  <div class="page">
    <h1>Rooms</h1>
    <p class="soft">In this order they stand everywhere: in lists, in pickers, on the household’s panels.</p>
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
  </div>
</template>

<style scoped>
.page {
  padding: var(--space-26) var(--space-34);
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: var(--space-44);
  margin-top: var(--space-20);
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
