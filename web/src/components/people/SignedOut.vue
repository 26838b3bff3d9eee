<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Password from 'primevue/password'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { Problem, reasonOf } from '@/api/client'
import { passkeysHere } from '@/lib/passkeys'
import { useSession } from '@/stores/session'

/** The way in: by a picture code, by name and password, or with the code of the hub's machine as its owner. */
const session = useSession()
const route = useRoute()

const SHORTEST = 8
const code = ref('')
const title = ref('')
const password = ref('')
const asOwner = ref(false)
const failed = ref<unknown>()
/** Whether others on the way could read the password. */
const inTheOpen = location.protocol === 'http:' && !['localhost', '127.0.0.1', '[::1]'].includes(location.hostname)
const busy = ref(false)

const way = computed(() => {
  if (route.meta.entrance) return 'code'
  return asOwner.value || session.state === 'setUp' ? 'owner' : 'password'
})
const heads = { code: 'Come in', owner: 'Become the owner', password: 'Sign in' }
const place = (field: string) => (failed.value instanceof Problem ? failed.value.at(field) : undefined)
const wrong = computed(() => {
  const at = ['code', 'title', 'password', 'answer'].map(place).find(Boolean)
  return failed.value ? (at ?? reasonOf(failed.value)) : ''
})

function enter() {
  if (way.value === 'code') return by(() => session.comeIn(route.hash.slice(1)))
  if (way.value === 'owner') return by(() => session.becomeOwner(code.value, title.value, password.value))
  return by(() => session.signIn(title.value, password.value))
}
async function by(work: () => Promise<void>) {
  failed.value = undefined
  busy.value = true
  try {
    await work()
  } catch (error) {
    failed.value = error
  } finally {
    busy.value = false
  }
}
function change() {
  asOwner.value = !asOwner.value
  failed.value = undefined
}
</script>

<template>
  <main class="entrance">
    <svg class="brand" viewBox="0 0 40 34" aria-hidden="true">
      <path class="first" d="M3 8h10c5 0 5 6 10 6h14" />
      <path d="M3 16h6c5 0 5 6 10 6h18" />
      <path class="last" d="M3 24h2c5 0 5 6 10 6h22" />
    </svg>
    <h1>{{ heads[way] }}</h1>
    <p v-if="way === 'code'" class="soft">
      This browser is let into the home for good, as the person for whom the code was made.
    </p>
    <p v-else-if="session.state === 'setUp'" class="soft">
      This home has no owner yet. The code was printed when the hub started, and lies in its data folder, in
      <span class="mono">owner-code.txt</span>.
    </p>
    <p v-else-if="way === 'owner'" class="soft">
      <span class="mono">amvek owner --reset</span> on the hub’s machine prints a code. With your own name you get a new
      password.
    </p>
    <form @submit.prevent="enter">
      <label v-if="way === 'owner'">
        Code
        <InputText v-model="code" class="mono" autocomplete="one-time-code" autofocus :invalid="!!place('code')" />
      </label>
      <label v-if="way !== 'code'">
        Name
        <InputText v-model="title" autocomplete="username" maxlength="60" :invalid="!!place('title')" />
      </label>
      <div v-if="way !== 'code'" class="field">
        <label for="password">Password</label>
        <Password
          v-model="password"
          input-id="password"
          :feedback="false"
          toggle-mask
          :input-props="{ autocomplete: way === 'owner' ? 'new-password' : 'current-password', maxlength: 200 }"
          :invalid="!!place('password')"
        />
        <small v-if="way === 'owner'" class="soft">{{ SHORTEST }} characters or more.</small>
      </div>
      <p v-if="inTheOpen && way !== 'code'" class="soft note">
        This connection is not encrypted: whoever is on the same network can read along.
      </p>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <Button type="submit" :label="heads[way]" :loading="busy" />
      <Button
        v-if="way === 'password' && passkeysHere()"
        severity="secondary"
        label="Sign in with a passkey"
        :disabled="busy"
        @click="by(session.byPasskey)"
      />
    </form>
    <button v-if="way !== 'code' && session.state === 'signIn'" class="plain link" @click="change">
      {{ asOwner ? 'Sign in with a password' : 'I have an owner’s code' }}
    </button>
    <RouterLink v-if="way === 'code'" class="link" to="/">Not now</RouterLink>
  </main>
</template>

<style scoped>
.entrance {
  max-width: 400px;
  margin: 0 auto;
  padding: 12vh var(--space-20) var(--space-60);
}
.brand {
  width: 56px;
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.4;
}
.first {
  stroke: var(--verdigris);
}
.last {
  stroke: var(--ink-soft);
}
h1 {
  margin: var(--space-14) 0 var(--space-6);
}
form {
  display: grid;
  gap: var(--space-16);
  margin: var(--space-26) 0 var(--space-20);
}
label,
.field {
  display: grid;
  gap: var(--space-4);
}
label {
  font-weight: 600;
}
form :deep(input) {
  width: 100%;
}
.note {
  font-size: var(--type-small);
}
.wrong {
  color: var(--ember);
}
</style>
