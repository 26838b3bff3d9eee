<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Textarea from 'primevue/textarea'
import ToggleSwitch from 'primevue/toggleswitch'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import { useNotices } from '@/stores/notices'

/** Joins an MQTT broker elsewhere. It is tried before it is kept. */
const notices = useNotices()
const router = useRouter()
const address = ref('')
const title = ref('')
const user = ref('')
const password = ref('')
const tls = ref(false)
const authority = ref('')
const wrong = ref('')
const trying = ref(false)

async function join() {
  trying.value = true
  try {
    const { id } = await ask(
      api.POST('/api/connections', {
        body: {
          kind: 'broker',
          address: address.value.trim(),
          title: title.value.trim() || undefined,
          user: user.value.trim() || undefined,
          password: password.value || undefined,
          tls: tls.value,
          authority: tls.value ? authority.value || undefined : undefined,
        },
      }),
    )
    notices.done('The broker is joined.')
    await router.push(`/connections/${id}`)
  } catch (error) {
    wrong.value = reasonOf(error)
  } finally {
    trying.value = false
  }
}
</script>

<template>
  <h1>A broker elsewhere</h1>
  <p class="soft">An MQTT 5 broker on another machine. The hub joins it as a client.</p>
  <form class="join" @submit.prevent="join">
    <label><span>Address</span><InputText v-model="address" fluid placeholder="host:1883" :invalid="!!wrong" /></label>
    <label><span>Name</span><InputText v-model="title" fluid placeholder="Broker at …" /></label>
    <label><span>User</span><InputText v-model="user" fluid autocomplete="off" /></label>
    <label
      ><span>Password</span
      ><InputText v-model="password" type="password" fluid autocomplete="off" placeholder="kept, never shown again"
    /></label>
    <label class="row"><ToggleSwitch v-model="tls" /> over TLS</label>
    <label v-if="tls" class="wide"
      ><span>Certificate authority to trust, besides the system’s</span
      ><Textarea v-model="authority" rows="4" fluid placeholder="-----BEGIN CERTIFICATE-----"
    /></label>
    <p v-if="wrong" class="wrong wide" role="alert">{{ wrong }}</p>
    <div class="wide">
      <Button type="submit" :label="trying ? 'Joining …' : 'Join it'" :disabled="!address.trim() || trying" />
    </div>
  </form>
</template>

<style scoped>
.join {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--space-12) var(--space-16);
  margin-top: var(--space-14);
}
label span:first-child {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.row {
  display: flex;
  gap: var(--space-8);
  align-items: center;
}
.wide {
  grid-column: 1 / 3;
}
.wrong {
  color: var(--ember);
}
</style>
