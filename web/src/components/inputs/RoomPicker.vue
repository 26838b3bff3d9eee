<script setup lang="ts">
import Select from 'primevue/select'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Chooses a room; typing a name that is not there makes the room. */
defineProps<{ label: string; size?: 'small' }>()
/** By keys: one who types down a column goes on. */
const emit = defineEmits<{ chosen: [] }>()
const room = defineModel<string | null>({ required: true })
const home = useHome()
const notices = useNotices()
const words = ref('')
const byKeys = ref(false)
// Once the list is shut, and a turn later: until then it takes the focus back.
function hidden() {
  if (byKeys.value) setTimeout(() => emit('chosen'))
  byKeys.value = false
}

const make = (hide: () => void) =>
  notices.attempt(async () => {
    const title = words.value.trim()
    const there = home.rooms.find((r) => r.title.toLowerCase() === title.toLowerCase())
    if (there) {
      room.value = there.id
    } else {
      const saved = await ask(api.POST('/api/rooms', { body: { title, order: home.rooms.length } }))
      await home.arrived('room', saved.id)
      room.value = saved.id
    }
    words.value = ''
    hide()
  })

const select = ref<InstanceType<typeof Select> & { hide: () => void }>()
</script>

<template>
  <Select
    ref="select"
    v-model="room"
    :options="home.rooms"
    placeholder="no room yet"
    show-clear
    option-label="title"
    option-value="id"
    :aria-label="label"
    :size="size"
    fluid
    @change="byKeys = $event.originalEvent.type === 'keydown'"
    @hide="hidden"
  >
    <template #footer>
      <form class="new" @submit.prevent="make(() => select?.hide())">
        <input v-model="words" placeholder="New room" aria-label="New room" @keydown.stop />
        <button class="plain link" type="submit" :disabled="!words.trim()">Add</button>
      </form>
    </template>
  </Select>
</template>

<style scoped>
.new {
  display: flex;
  gap: var(--space-8);
  padding: var(--space-8) var(--space-10);
  border-top: 1px solid var(--rule);
}
input {
  flex: 1;
  min-width: 0;
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--edge);
}
</style>
