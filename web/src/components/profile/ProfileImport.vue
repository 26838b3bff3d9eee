<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import { useHome } from '@/stores/home'
import PageHead from '@/components/page/PageHead.vue'
import ProfileText from './ProfileText.vue'

/** A new profile: from a file, from an address, or written from a beginning. */
const props = defineProps<{ model: string }>()
const emit = defineEmits<{ saved: [string] }>()
const home = useHome()

const asking = computed(() => home.found.devices.find((d) => d.model === props.model && !d.profile))
const beginning = () =>
  JSON.stringify(
    {
      '@context': ['https://www.w3.org/2022/wot/td/v1.1', { amvek: 'urn:amvek:profile#' }],
      '@type': 'tm:ThingModel',
      title: asking.value?.label ?? 'New device',
      'amvek:maker': asking.value?.maker ?? '',
      'amvek:model': props.model || 'MODEL-1',
      'amvek:what': 'sensor',
      'amvek:line': { json: true, ask: ['{"get":1}'] },
      securityDefinitions: { nosec_sc: { scheme: 'nosec' } },
      security: 'nosec_sc',
      properties: {
        temperature: {
          title: 'Temperature',
          type: 'number',
          unit: '°C',
          readOnly: true,
          'amvek:role': 'temperature',
          minimum: -40,
          maximum: 80,
          'amvek:native': { field: 'temperature' },
        },
      },
    },
    null,
    2,
  ) + '\n'

const text = ref(beginning())
const address = ref('')
const wrong = ref('')
const file = ref<HTMLInputElement>()

async function fromFile(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (chosen) text.value = await chosen.text()
}
async function fromAddress() {
  try {
    text.value = (await ask(api.POST('/api/fetch', { body: { address: address.value.trim() } }))).document
    wrong.value = ''
  } catch (error) {
    wrong.value = reasonOf(error)
  }
}
</script>

<template>
  <PageHead title="New profile">
    <template v-if="asking">For {{ asking.label }}, model {{ model }}. </template>
    Take one from a file or an address, or write it here. Nothing changes until you save it.
  </PageHead>
  <form class="row" @submit.prevent="fromAddress">
    <input
      ref="file"
      type="file"
      accept=".json,application/json"
      hidden
      aria-label="File of a profile"
      @change="fromFile"
    />
    <Button type="button" severity="secondary" label="From a file" @click="file?.click()" />
    <InputText v-model="address" placeholder="https://…" aria-label="Address of a profile" :invalid="!!wrong" fluid />
    <Button type="submit" severity="secondary" label="From this address" :disabled="!address.trim()" />
  </form>
  <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  <ProfileText v-model="text" before="" @saved="emit('saved', $event)" />
</template>

<style scoped>
.row {
  display: flex;
  gap: var(--space-10);
  align-items: center;
  margin: var(--space-14) 0 var(--space-10);
}
.wrong {
  color: var(--ember);
  margin-bottom: var(--space-8);
}
</style>
