<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Became, WireMessage } from '@/api/types'
import { useHome } from '@/stores/home'

/** A message as it went over a connection, beside what it became or was sent for. */
const props = defineProps<{ message: WireMessage; open: boolean }>()
defineEmits<{ open: [] }>()
const home = useHome()

const connection = computed(() => home.connections.find((c) => c.id === props.message.connection))
const exact = computed(() => home.times.exact(props.message.at))
const said = (b: Became): string => {
  if (b.value === undefined || b.value === null) return ''
  const property = home.property(b.device, b.name)
  if (typeof b.value === 'number')
    return `${Math.round(b.value * 100) / 100}${property?.unit ? ` ${property.unit}` : ''}`
  return typeof b.value === 'object' ? JSON.stringify(b.value) : String(b.value)
}
const titleOf = (b: Became) => home.device(b.device)?.title ?? b.hardware ?? ''
const nameOf = (b: Became) => {
  const d = home.device(b.device)
  const known =
    d?.description.properties.find((p) => p.name === b.name) ?? d?.description.events.find((e) => e.name === b.name)
  return (known?.title ?? b.name ?? '').toLowerCase()
}
const words: Record<Became['kind'], string> = {
  report: '',
  event: 'event',
  refused: 'refused',
  command: 'set',
  action: 'asked to',
  done: 'done',
  failed: 'failed',
}
const wrong = (b: Became) => b.kind === 'refused' || b.kind === 'failed'
/** A message by MQTT of which no device of the home was told: one can be made of it. */
const makes = computed(
  () =>
    !props.message.sent &&
    ['hubBroker', 'broker'].includes(connection.value?.kind ?? '') &&
    !props.message.became?.some((b) => b.device),
)
const MOST = 3
const shown = computed(() => (props.open ? (props.message.became ?? []) : (props.message.became ?? []).slice(0, MOST)))
</script>

<template>
  <li :class="{ refused: message.became?.some(wrong) }">
    <span class="mono soft at">{{ exact }}</span>
    <span class="mono way" :title="message.sent ? 'sent by the hub' : 'came in'">{{
      message.sent ? 'out' : 'in'
    }}</span>
    <span class="place">
      <RouterLink class="soft" :to="`/connections/${message.connection}`">{{
        connection?.title ?? 'removed'
      }}</RouterLink>
      <span class="mono where" :class="{ whole: open }" :title="message.place">{{ message.place }}</span>
    </span>
    <button
      type="button"
      class="plain mono raw"
      :class="{ whole: open }"
      :aria-expanded="open"
      :aria-label="`${exact}, ${message.sent ? 'sent' : 'came in'}: ${message.text || 'only what it became is known'}`"
      @click="$emit('open')"
    >
      {{ message.text || '–' }}<span v-if="message.cut" class="soft"> … cut</span>
    </button>
    <span class="became">
      <span v-for="(b, i) in shown" :key="i" :class="{ wrong: wrong(b) }">
        <span v-if="words[b.kind]" class="soft">{{ words[b.kind] }}</span>{{ ' ' }}
        <RouterLink v-if="b.device" :to="`/devices/${b.device}`">{{ titleOf(b) }}</RouterLink>
        <span v-else-if="b.hardware">{{ titleOf(b) }} <span class="soft">not in the home</span></span>
        {{ nameOf(b) }} <b class="mono">{{ said(b) }}</b> {{ b.reason }}
      </span>
      <span v-if="(message.became?.length ?? 0) > shown.length" class="soft"
        >and {{ message.became!.length - shown.length }} more</span
      >
      <span v-if="!message.became?.length" class="soft">{{
        message.sent ? 'asked by the hub' : 'nothing that the home uses'
      }}</span>
      <span v-if="open" class="links">
        <RouterLink v-if="message.cause" class="link" :to="{ path: '/journal', query: { entry: message.cause } }"
          >Why it was sent</RouterLink
        >
        <RouterLink
          v-if="makes"
          class="link"
          :to="{ path: `/connections/${message.connection}`, query: { topic: message.place } }"
          >Make a device of it</RouterLink
        >
      </span>
    </span>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 76px 28px minmax(200px, 1.5fr) minmax(160px, 1.2fr) minmax(180px, 1.3fr);
  gap: var(--space-10);
  padding: var(--space-4) 0 var(--space-4) var(--space-6);
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid transparent;
  font-size: var(--type-small);
  align-items: start;
}
.refused {
  border-left-color: var(--ember);
}
.place {
  display: flex;
  flex-wrap: wrap;
  column-gap: var(--space-8);
}
.became {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--space-2);
  overflow-wrap: anywhere;
}
.raw,
.where {
  text-align: left;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.place > *,
.became > * {
  min-width: 0;
}
.whole {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
.wrong {
  color: var(--ember);
}
.links {
  display: flex;
  gap: var(--space-16);
}
@media (max-width: 900px) {
  li {
    grid-template-columns: 104px 30px minmax(0, 1fr);
  }
  .raw,
  .became {
    grid-column: 1 / -1;
  }
}
</style>
