<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { FoundDevice } from '@/api/types'
import { useNotices } from '@/stores/notices'

/** Asks for the key that a described device wants. It is tried before it is kept. */
const props = defineProps<{ device: FoundDevice }>()
const notices = useNotices()
const key = ref('')
const user = ref('')
const wrong = ref('')
const trying = ref(false)

async function unlock() {
  trying.value = true
  try {
    await ask(
      api.POST('/api/things/key', {
        body: { hardware: props.device.hardware, key: key.value.trim(), user: user.value.trim() || undefined },
      }),
    )
    wrong.value = ''
    notices.done('The key fits. It is kept encrypted and never shown again.')
  } catch (error) {
    wrong.value = reasonOf(error)
  } finally {
    trying.value = false
  }
}
</script>

<template>
  <form class="key" @submit.prevent="unlock">
    <span class="needs small">It needs a key.</span>
    <InputText
      v-model="user"
      size="small"
      placeholder="user, if it has one"
      autocomplete="off"
      :aria-label="`User for ${device.label}`"
    />
    <InputText
      v-model="key"
      size="small"
      type="password"
      placeholder="key, code or password"
      autocomplete="off"
      :aria-label="`Key for ${device.label}`"
      :invalid="!!wrong"
    />
    <Button
      type="submit"
      size="small"
      severity="secondary"
      :label="trying ? 'Trying …' : 'Try the key'"
      :aria-label="`Try the key for ${device.label}`"
      :disabled="!key.trim() || trying"
    />
    <span v-if="wrong" class="wrong small" role="alert">{{ wrong }}</span>
  </form>
</template>

<style scoped>
.key {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6);
  align-items: center;
  margin: var(--space-4) 0;
}
.small {
  font-size: var(--type-small);
}
.needs {
  color: var(--ochre);
}
.wrong {
  color: var(--ember);
}
</style>
