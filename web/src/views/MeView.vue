<script setup lang="ts">
import Button from 'primevue/button'
import Password from 'primevue/password'
import { ref } from 'vue'
import { api, ask, Problem, reasonOf } from '@/api/client'
import OwnPasskeys from '@/components/people/OwnPasskeys.vue'
import PlainPage from '@/components/page/PlainPage.vue'
import { useNotices } from '@/stores/notices'
import { useSession } from '@/stores/session'

/** What somebody sees to of themselves: a password, and leaving. */
const session = useSession()
const notices = useNotices()

const roles = {
  owner: 'You own this home.',
  member: 'You see and operate this home.',
  guest: 'You are a guest here.',
  panel: 'This is a panel.',
}
const now = ref('')
const next = ref('')
const failed = ref<unknown>()
const place = (field: string) => (failed.value instanceof Problem ? failed.value.at(field) : undefined)

async function change() {
  failed.value = undefined
  try {
    await ask(api.PUT('/api/session/password', { body: { now: now.value || undefined, next: next.value } }))
    now.value = ''
    next.value = ''
    notices.done('Your password is changed. Other browsers that were in as you are out.')
  } catch (error) {
    failed.value = error
  }
}
</script>

<template>
  <PlainPage :title="session.view?.title || 'At this machine'">
    <template #lead>{{ session.role ? roles[session.role] : '' }}</template>
    <template v-if="session.view?.person" #buttons>
      <Button severity="secondary" label="Sign out" @click="notices.attempt(session.signOut)" />
    </template>
    <p v-if="!session.view?.person" class="soft">
      Whoever is at the hub’s own machine owns the home, without signing in.
    </p>
    <section v-else aria-label="Password">
      <h2>Password</h2>
      <p class="soft">
        With it you come in from any browser. Without one you are let in by a code that an owner shows.
      </p>
      <form @submit.prevent="change">
        <label>
          The present one, where you have one
          <Password
            v-model="now"
            :feedback="false"
            toggle-mask
            :invalid="!!place('now')"
            :input-props="{ autocomplete: 'current-password', maxlength: 200 }"
          />
        </label>
        <label>
          The new one
          <Password
            v-model="next"
            :feedback="false"
            toggle-mask
            :invalid="!!place('next')"
            :input-props="{ autocomplete: 'new-password', maxlength: 200 }"
          />
        </label>
        <p v-if="failed" class="wrong" role="alert">{{ place('now') ?? place('next') ?? reasonOf(failed) }}</p>
        <Button type="submit" label="Change the password" :disabled="!next" />
      </form>
    </section>
    <OwnPasskeys v-if="session.view?.person" />
  </PlainPage>
</template>

<style scoped>
form {
  display: grid;
  gap: var(--space-14);
  max-width: 360px;
  margin-top: var(--space-16);
}
label {
  display: grid;
  gap: var(--space-4);
  font-weight: 600;
}
form :deep(input),
form :deep(.p-password) {
  width: 100%;
}
.wrong {
  color: var(--ember);
}
</style>
