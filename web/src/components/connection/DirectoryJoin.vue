<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import { useNotices } from '@/stores/notices'

/** Follows a directory of devices that describe themselves, such as another home's. It is read before it is kept. */
const props = defineProps<{ address: string }>()
const notices = useNotices()
const router = useRouter()
const address = ref(props.address)
const title = ref('')
const key = ref('')
const wrong = ref('')
const reading = ref(false)

async function follow() {
  reading.value = true
  wrong.value = ''
  try {
    const { id } = await ask(
      api.POST('/api/connections', {
        body: {
          kind: 'directory',
          address: address.value.trim(),
          title: title.value.trim() || undefined,
          password: key.value || undefined,
        },
      }),
    )
    notices.done('The directory is followed. What it lists is among the found devices.')
    await router.push(`/connections/${id}`)
  } catch (error) {
    wrong.value = reasonOf(error)
  } finally {
    reading.value = false
  }
}
</script>

<template>
  <h1>A directory of devices</h1>
  <p class="soft">
    One address that lists Thing Descriptions (W3C). Another home on Amvek has its own at <code>/things</code>; make a
    key for this home there, under House. What the list gains, loses or describes anew is followed.
  </p>
  <form class="join" @submit.prevent="follow">
    <label
      ><span>Address</span
      ><InputText v-model="address" fluid class="mono" placeholder="http://192.168.1.40:8420/things" :invalid="!!wrong"
    /></label>
    <label><span>Name</span><InputText v-model="title" fluid placeholder="Devices at …" /></label>
    <label
      ><span>Key, if it wants one</span
      ><InputText v-model="key" type="password" fluid autocomplete="off" placeholder="kept, never shown again"
    /></label>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div>
      <Button type="submit" :label="reading ? 'Reading …' : 'Follow it'" :disabled="!address.trim() || reading" />
    </div>
  </form>
</template>

<style scoped>
.join {
  display: grid;
  gap: var(--space-12);
  max-width: 520px;
  margin-top: var(--space-14);
}
label span:first-child {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.wrong {
  color: var(--ember);
}
</style>
