<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { Device, Property, Rule } from '@/api/types'
import { documentOf } from '@/lib/documents'
import { useEdits } from '@/stores/edits'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Both the maker's box and rules act on the keys of a device: it is said, and settled one way or the other. */
const props = defineProps<{ device: Device; handler: Property; rules: Rule[] }>()
const home = useHome()
const notices = useNotices()
const edits = useEdits()

const acting = computed(() => props.device.states.find((s) => s.name === props.handler.name)?.value)
/** Who does something by itself: the maker's box, or a part that the device names. */
const box = computed(() =>
  acting.value === 'bridge'
    ? (home.connections.find((c) => c.id === props.device.connection)?.title ?? 'the bridge')
    : `the ${acting.value}`,
)
const count = computed(() => (props.rules.length === 1 ? '1 rule' : `${props.rules.length} rules`))
const LEFT_TO_US = 'client'
const hand = (value: string) =>
  ask(
    api.PUT('/api/devices/{id}/properties/{property}', {
      params: { path: { id: props.device.id, property: props.handler.name } },
      body: { value },
    }),
  )
const ours = () =>
  notices.attempt(async () => {
    const before = acting.value
    const from = box.value.charAt(0).toUpperCase() + box.value.slice(1)
    await hand(LEFT_TO_US)
    notices.done(`${from} leaves ${props.device.title} to Amvek.`, () => hand(String(before)))
  })
const theirs = () =>
  notices.attempt(async () => {
    const all = props.rules.map((r) => ({ id: r.id, doc: documentOf('rule', r) }))
    const turn = async (on: boolean) => {
      for (const { id, doc } of all) await edits.now('rule', id, { ...doc, enabled: !on }, { ...doc, enabled: on })
    }
    await turn(false)
    notices.done(`${count.value} of ${props.device.title} switched off.`, () => turn(true))
  })
</script>

<template>
  <div class="both" role="alert">
    <p>
      <b>One press acts twice:</b> {{ box }} does something with it, and {{ count }} here
      {{ rules.length === 1 ? 'does' : 'do' }} too.
    </p>
    <Button size="small" label="Let Amvek act alone" @click="ours" />
    <Button size="small" severity="secondary" :label="`Leave it to ${box}`" @click="theirs" />
  </div>
</template>

<style scoped>
.both {
  display: grid;
  gap: var(--space-8);
  justify-items: start;
  border-left: 3px solid var(--ember);
  padding: var(--space-4) 0 var(--space-4) var(--space-10);
  font-size: var(--type-small);
}
p {
  margin: 0;
}
</style>
