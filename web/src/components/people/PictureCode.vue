<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { encode } from 'uqr'
import { computed, onMounted, ref } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { Reach } from '@/api/types'
import ErrorNote from '@/components/page/ErrorNote.vue'
import { useNotices } from '@/stores/notices'
import { useIntervalFn } from '@vueuse/core'

/** A code that lets one browser in: the camera of a phone or tablet reads it. */
const props = defineProps<{ person: { id: string; title: string } }>()
const emit = defineEmits<{ close: [] }>()
const notices = useNotices()

const SECOND = 1000
const address = ref('')
const failed = ref('')
const until = ref(0)
const left = ref(0)
useIntervalFn(() => (left.value = Math.max(0, Math.ceil((until.value - Date.now()) / SECOND))), SECOND / 2)

async function make() {
  failed.value = ''
  try {
    const reach = await ask(api.GET('/api/reach'))
    const made = await ask(api.POST('/api/people/{id}/code', { params: { path: { id: props.person.id } } }))
    address.value = `${originOf(reach)}/enter#${made.code}`
    until.value = new Date(made.until).getTime()
    left.value = Math.ceil((until.value - Date.now()) / SECOND)
  } catch (error) {
    failed.value = reasonOf(error)
  }
}
onMounted(make)

/** The picture as one path of squares, each of size 1. */
const picture = computed(() => {
  if (!address.value) return undefined
  const { data, size } = encode(address.value, { ecc: 'M', border: 2 })
  const path = data.flatMap((row, y) => row.flatMap((dark, x) => (dark ? [`M${x} ${y}h1v1h-1z`] : []))).join('')
  return { size, path }
})
const words = computed(() => {
  const minutes = Math.floor(left.value / 60)
  return `${minutes}:${String(left.value % 60).padStart(2, '0')}`
})
const ofThisMachine = (host: string) => ['localhost', '127.0.0.1', '[::1]'].includes(host)
/** Whether only this machine finds the address. */
const onlyHere = computed(() => !!address.value && ofThisMachine(new URL(address.value).hostname))
/** Where a phone opens the hub: as this browser does, or where that is this machine's own address at one on the network. */
function originOf(reach: Reach): string {
  if (!ofThisMachine(location.hostname)) return location.origin
  const numbered = reach.addresses.find((a) => /^https?:\/\/[\d.]+:/.test(a) && !ofThisMachine(new URL(a).hostname))
  return numbered ?? location.origin
}

const copy = () =>
  notices.attempt(async () => {
    await navigator.clipboard.writeText(address.value)
    notices.done('The address is copied.')
  })
</script>

<template>
  <Dialog visible modal :header="`Let ${person.title} in`" :style="{ width: '420px' }" @update:visible="emit('close')">
    <ErrorNote v-if="failed" :reason="failed" @again="make" />
    <template v-else-if="picture">
      <div v-if="left" class="code">
        <svg
          :viewBox="`0 0 ${picture.size} ${picture.size}`"
          role="img"
          :aria-label="`Picture code that lets ${person.title} in`"
          shape-rendering="crispEdges"
        >
          <path :d="picture.path" />
        </svg>
      </div>
      <p v-if="left">
        Point the camera of the phone or tablet at it. It lets one browser in as {{ person.title }}, once, for another
        <b class="mono">{{ words }}</b>.
      </p>
      <p v-else role="alert">This code is over.</p>
      <p v-if="onlyHere" class="note">
        The address in it is found by this machine alone. First have the hub
        <RouterLink class="link" to="/reach">reached from the network</RouterLink>.
      </p>
      <div class="row">
        <Button v-if="left" size="small" severity="secondary" label="Copy its address" @click="copy" />
        <Button v-else size="small" label="Make a new one" @click="make" />
      </div>
    </template>
  </Dialog>
</template>

<style scoped>
.code {
  background: var(--code-paper);
  border: 1px solid var(--rule);
  margin-bottom: var(--space-14);
}
svg {
  display: block;
  width: 100%;
  fill: var(--code-ink);
}
.note {
  margin-top: var(--space-10);
  color: var(--ochre);
}
.row {
  margin-top: var(--space-14);
}
</style>
