<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Admission, Reach } from '@/api/types'
import AdmittedList from '@/components/connection/AdmittedList.vue'
import ErrorNote from '@/components/page/ErrorNote.vue'
import PlainPage from '@/components/page/PlainPage.vue'
import { useReading } from '@/lib/reading'

/** Where phones and tablets open the hub, and what they have to trust. */
const reach = ref<Reach>()
/** Those that are believed, in words. */
const proxies = computed(() => reach.value?.proxies.join(', ') ?? '')
const origins = computed(() => reach.value?.origins ?? [])
const { failed, again } = useReading(async () => {
  reach.value = await ask(api.GET('/api/reach'))
})
onMounted(again)

async function admit(body: Admission) {
  reach.value = await ask(api.PATCH('/api/reach/admitted', { body }))
}
</script>

<template>
  <PlainPage title="On your network">
    <template #lead>Where phones, tablets and other machines of the household open Amvek.</template>
    <ErrorNote v-if="failed" :reason="failed" @again="again" />
    <template v-if="reach">
      <section aria-label="Addresses">
        <h2>Addresses</h2>
        <ul>
          <li v-for="a in reach.addresses" :key="a" class="mono">{{ a }}</li>
        </ul>
        <p v-if="!reach.beyond" class="note">
          Only this machine reaches it. Start Amvek with <span class="mono">--listen 0.0.0.0:8420</span> for the whole
          network of the home; everybody then signs in.
        </p>
      </section>
      <AdmittedList
        title="Other names"
        :list="reach.hosts"
        label="Another name of the hub"
        example="home.example.org"
        field="addHosts"
        :add="(one: string) => admit({ addHosts: [one] })"
        :remove="(one: string) => admit({ removeHosts: [one] })"
      >
        <p class="text">
          The hub answers to its machine’s own names and addresses. Add a name that your router or a proxy gives it.
        </p>
        <p v-if="proxies" class="text">
          It believes what a proxy at <span class="mono">{{ proxies }}</span> says of who asks.
        </p>
      </AdmittedList>
      <section aria-label="Encryption">
        <h2>Encryption</h2>
        <template v-if="reach.fingerprint">
          <p class="text">
            The hub makes its certificates by itself. A device trusts them once it has
            <a class="link" href="/authority.crt">the hub’s authority</a>, with this fingerprint:
          </p>
          <p class="mono finger">{{ reach.fingerprint }}</p>
          <dl>
            <dt>Android</dt>
            <dd>Open the file; or Settings › Security › Install a certificate › CA certificate.</dd>
            <dt>iPhone, iPad</dt>
            <dd>
              Open the file, install the profile in Settings, then switch it on in General › About › Certificate Trust
              Settings.
            </dd>
            <dt>Windows</dt>
            <dd>Open the file › Install certificate › Trusted Root Certification Authorities.</dd>
            <dt>Mac</dt>
            <dd>Open the file, and set it to Always Trust in Keychain Access.</dd>
            <dt>Linux</dt>
            <dd>In the browser’s settings, under certificates › authorities.</dd>
          </dl>
        </template>
        <p v-else-if="reach.encrypted" class="text">It is encrypted, with the certificate that it was given.</p>
        <p v-else class="text">
          It is not encrypted: whoever is on the network can read along. Start Amvek with
          <span class="mono">--tls auto</span>, or give it a certificate. Without encryption browsers let no page use a
          camera, make passkeys or be installed.
        </p>
      </section>
      <AdmittedList
        title="Other web pages"
        :list="origins"
        label="Origin of another web page"
        example="https://example.org"
        field="addOrigins"
        :add="(one: string) => admit({ addOrigins: [one] })"
        :remove="(one: string) => admit({ removeOrigins: [one] })"
      >
        <p class="text">
          A page of your own, served from elsewhere, may use this home’s interface with a
          <RouterLink class="link" to="/keys">key</RouterLink>, if its origin is named here. All others are kept out.
        </p>
      </AdmittedList>
    </template>
  </PlainPage>
</template>

<style scoped>
section + section {
  margin-top: var(--space-26);
}
ul {
  margin: var(--space-8) 0;
  padding: 0;
  list-style: none;
}
.text,
.note {
  max-width: 640px;
  margin: var(--space-8) 0;
}
.note {
  color: var(--ochre);
}
.finger {
  max-width: 640px;
  overflow-wrap: anywhere;
}
dl {
  display: grid;
  grid-template-columns: auto minmax(0, 560px);
  gap: var(--space-8) var(--space-20);
  margin-top: var(--space-14);
}
dt {
  font-weight: 650;
}
dd {
  margin: 0;
}
</style>
