<script setup lang="ts">
import Button from 'primevue/button'
import { onMounted } from 'vue'
import ErrorNote from '@/components/page/ErrorNote.vue'
import { passkeysHere, useOwnPasskeys } from '@/lib/passkeys'
import { useReading } from '@/lib/reading'
import { useHome } from '@/stores/home'

/** One's own passkeys: made on this device, and removed. */
const home = useHome()
const passkeys = useOwnPasskeys()
const { failed, again } = useReading(passkeys.read)
onMounted(again)
const here = passkeysHere()
</script>

<template>
  <section aria-label="Passkeys">
    <h2>Passkeys</h2>
    <p class="soft">
      With a passkey you sign in by your finger, your face or this device’s lock, and type nothing. A passkey works for
      one name of the hub.
    </p>
    <ErrorNote v-if="failed" :reason="failed" @again="again" />
    <ul>
      <li v-for="k in passkeys.list.value" :key="k.id">
        <span>
          <b>{{ k.on }}</b> for <span class="mono">{{ k.site }}</span>
          <span class="soft small">
            made {{ home.times.since(k.made, home.now) }},
            {{ k.used ? `last used ${home.times.since(k.used, home.now)}` : 'not used yet' }}
          </span>
        </span>
        <Button
          size="small"
          severity="secondary"
          label="Remove"
          :aria-label="`Remove the passkey of ${k.on}`"
          @click="passkeys.remove(k.id)"
        />
      </li>
    </ul>
    <Button
      v-if="here"
      severity="secondary"
      label="Make a passkey on this device"
      :loading="passkeys.busy.value"
      @click="passkeys.make"
    />
    <p v-else class="note">
      Browsers make passkeys only over an encrypted connection and for a name, not for an address of numbers. Open the
      hub by a name, such as <span class="mono">https://amvek.local:8420</span>.
    </p>
  </section>
</template>

<style scoped>
section {
  margin-top: var(--space-34);
  max-width: 640px;
}
ul {
  margin: var(--space-10) 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  justify-content: space-between;
  gap: var(--space-14);
  align-items: center;
  padding: var(--space-8) 0;
  border-bottom: 1px solid var(--rule);
}
.small {
  display: block;
  font-size: var(--type-small);
}
.note {
  color: var(--ochre);
}
</style>
