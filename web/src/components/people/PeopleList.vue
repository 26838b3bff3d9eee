<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { onMounted, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { BrowserSession, Person } from '@/api/types'
import ErrorNote from '@/components/page/ErrorNote.vue'
import { useReading } from '@/lib/reading'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import { useSession } from '@/stores/session'
import PersonCard from './PersonCard.vue'
import { ROLES } from './roles'

/** Everybody who is let in: what they may, and with which browsers they are in. */
const home = useHome()
const session = useSession()
const notices = useNotices()

const title = ref('')
const role = ref<Person['role']>('member')
const browsers = ref<BrowserSession[]>([])
const passwords = ref<string[]>([])
const { failed, again: read } = useReading(async () => {
  const all = await ask(api.GET('/api/sessions'))
  browsers.value = all.sessions
  passwords.value = all.passwords
})

onMounted(read)

async function add() {
  const body = { title: title.value.trim(), role: role.value }
  const made = await notices.attempt(async () => {
    const { id } = await ask(api.POST('/api/people', { body }))
    await home.arrived('person', id)
  })
  if (made) title.value = ''
}
</script>

<template>
  <section aria-label="People">
    <p v-if="!home.people.length" class="soft">
      Nobody yet. Whoever you add can be let in with a phone or tablet by a code that you show.
    </p>
    <ErrorNote v-if="failed" :reason="failed" @again="read" />
    <PersonCard
      v-for="p in home.people"
      :key="p.id"
      :person="p"
      :mine="p.id === session.view?.person"
      :sessions="browsers.filter((s) => s.person === p.id)"
      :has-password="passwords.includes(p.id)"
      @changed="read"
    />
    <form class="row" @submit.prevent="add">
      <InputText v-model="title" placeholder="New person" aria-label="Name of the new person" maxlength="60" />
      <Select
        v-model="role"
        :options="ROLES"
        option-value="value"
        option-label="title"
        aria-label="Role of the new person"
      />
      <Button type="submit" severity="secondary" label="Add" :disabled="!title.trim()" />
    </form>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
  border-top: 1px solid var(--rule);
  padding-top: var(--space-14);
}
</style>
