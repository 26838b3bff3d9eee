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
  padding: 26px 30px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 48px;
  margin-top: 22px;
  align-items: start;
}
h2 {
  margin-bottom: 12px;
}
.add {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
}
</style>
