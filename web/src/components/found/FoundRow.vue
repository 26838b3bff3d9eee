<script setup lang="ts">
import { IconChevronDown, IconChevronRight } from '@tabler/icons-vue'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { FoundDevice, Proposal } from '@/api/types'
import ThingKey from '@/components/connection/ThingKey.vue'
import RoomPicker from '@/components/inputs/RoomPicker.vue'
import { readsNow } from '@/lib/found'
import { useAdding } from '@/stores/adding'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** A found device: what it is, what it reads now, and the name and room that it is to have. */
const props = defineProps<{ device: FoundDevice; proposal?: Proposal }>()
const emit = defineEmits<{ next: [] }>()
const home = useHome()
const notices = useNotices()
const adding = useAdding()
const choice = computed(() => adding.choice(props.device))
const opened = ref(false)

// Operated by hand, a device shows which row is its own.
const REACTS_FOR = 4000
const reacting = computed(() => !!props.device.reacted && home.now - Date.parse(props.device.reacted) < REACTS_FOR)
const reads = computed(() => readsNow(props.device))

// What is given a name or a room is wanted in the home.
const title = computed({
  get: () => choice.value.title,
  set: (words) => {
    choice.value.title = words
    if (words.trim() && props.device.profile) choice.value.ticked = true
  },
})
const room = computed<string | null>({
  get: () => choice.value.room,
  set: (id) => {
    choice.value.room = id ?? ''
    if (id && props.device.profile) choice.value.ticked = true
  },
})

const install = (model: string) =>
  notices.attempt(async () => {
    await ask(api.POST('/api/profiles/{model}/install', { params: { path: { model } } }))
    notices.done(`The profile ${model} is installed.`)
  })
const identify = () =>
  notices.attempt(() =>
    ask(
      api.POST('/api/found/identify', {
        body: { connection: props.device.connection, hardware: props.device.hardware },
      }),
    ),
  )
/** What was removed has its name, room, history and uses again. */
const bringBack = () =>
  notices.attempt(async () => {
    const former = props.device.former!
    await ask(api.POST('/api/devices/{id}/restore', { params: { path: { id: former.id } } }))
    adding.forget(props.device)
    notices.done(`${former.title} is in the home again, with its name, room, history and uses.`, () =>
      ask(api.DELETE('/api/devices/{id}', { params: { path: { id: former.id } } })),
    )
  })
const replace = (id: string, name: string) =>
  notices.attempt(async () => {
    const before = home.device(id)
    const taking = (of: { connection: string; hardware: string }) =>
      ask(
        api.POST('/api/devices/{id}/hardware', {
          params: { path: { id } },
          body: { connection: of.connection, hardware: of.hardware },
        }),
      )
    await taking(props.device)
    adding.forget(props.device)
    notices.done(`${props.device.label} is now ${name}: name, room, history and every use go on.`, async () => {
      if (before) await taking(before)
    })
  })
</script>

<template>
  <tr :class="{ ticked: choice.ticked, reacting }">
    <td>
      <Checkbox
        v-model="choice.ticked"
        binary
        :disabled="!device.profile"
        :aria-label="`Take ${device.label} into the home`"
      />
    </td>
    <td class="what">
      <button
        class="plain label"
        :aria-expanded="opened"
        :aria-label="`More about ${device.label}`"
        @click="opened = !opened"
      >
        <component :is="opened ? IconChevronDown : IconChevronRight" :size="14" stroke="2" />
        <b :title="device.label">{{ device.label }}</b>
      </button>
      <span v-if="reacting" class="reacts small" role="status">reacts now</span>
      <button
        v-if="device.canIdentify"
        class="plain link small"
        :aria-label="`Identify ${device.label}`"
        @click="identify"
      >
        Identify
      </button>
    </td>
    <td class="reads" :title="reads || device.offers.join(', ')">
      <span v-if="reads">{{ reads }}</span>
      <span v-else class="soft">{{ device.offers.join(', ') || device.model }}</span>
    </td>
    <td class="mono figure">{{ device.signal === undefined ? '' : `${Math.round(device.signal)} %` }}</td>
    <td class="mono figure soft">{{ device.heard ? home.times.since(device.heard, home.now) : '' }}</td>
    <td data-column="name">
      <InputText
        v-model="title"
        size="small"
        fluid
        :disabled="!device.profile"
        :placeholder="proposal?.title ?? 'Name'"
        :aria-label="`Name for ${device.label}`"
      />
      <span v-if="proposal?.near" class="near small">Easily confused with {{ proposal.near }}</span>
    </td>
    <td data-column="room">
      <RoomPicker v-model="room" size="small" :label="`Room for ${device.label}`" @chosen="emit('next')" />
    </td>
  </tr>
  <tr
    v-if="opened || !device.profile || device.locked || device.former || device.candidates?.length"
    class="more"
    :class="{ ticked: choice.ticked }"
  >
    <td />
    <td colspan="6">
      <p v-if="opened" class="small soft">
        {{ device.maker }} · {{ device.profile ?? device.model }} · {{ device.offers.join(', ') }}
        <template v-if="device.roomHint"> · its bridge says {{ device.roomHint }}</template>
        <template v-if="device.groups"> · in its bridge’s group {{ device.groups }}</template> ·
        <span class="mono">{{ device.hardware }}</span>
      </p>
      <p v-if="!device.profile" class="small missing">
        It needs the profile {{ device.model }}.
        <button v-if="device.installable" class="plain link" @click="install(device.model)">Install it</button>
        <RouterLink v-else class="link" :to="{ path: '/profiles/new', query: { model: device.model } }">
          Write or import one
        </RouterLink>
      </p>
      <ThingKey v-if="device.locked" :device="device" />
      <p v-if="device.former" class="small back">
        It was {{ device.former.title }}{{ device.former.room ? `, ${device.former.room}` : '' }}, before that was
        removed.
        <button
          class="plain link"
          :aria-label="`Bring ${device.former.title} back with ${device.label}`"
          @click="bringBack"
        >
          Bring it back
        </button>
      </p>
      <p v-for="c in device.candidates ?? []" :key="c.id" class="small back">
        It may be {{ c.title }}, come back{{
          c.lastHeard ? `: that was last heard ${home.times.since(c.lastHeard, home.now)}` : ''
        }}.
        <button
          class="plain link"
          :aria-label="`Put ${device.label} in the place of ${c.title}`"
          @click="replace(c.id, c.title)"
        >
          Put it in its place
        </button>
      </p>
    </td>
  </tr>
</template>

<style scoped>
td {
  vertical-align: middle;
  border-top: 1px solid var(--rule);
  padding: var(--space-4) var(--space-10) var(--space-4) 0;
}
td:first-child {
  width: 34px;
  padding-left: var(--space-6);
}
.more td {
  border-top: 0;
  padding-block: 0 var(--space-6);
}
.ticked td {
  background: var(--sheet);
}
.reacting td {
  background: var(--verdigris-wash);
}
.small {
  font-size: var(--type-small);
}
.what {
  white-space: nowrap;
}
.what > * {
  vertical-align: middle;
}
.what > * + * {
  margin-left: var(--space-8);
}
.label {
  display: inline-flex;
  align-items: center;
  gap: var(--space-4);
  max-width: 100%;
}
.label b,
.reads {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.reads {
  max-width: 0;
  width: 34%;
  font-size: var(--type-small);
}
.figure {
  text-align: right;
  white-space: nowrap;
  font-size: var(--type-small);
}
.reacts {
  color: var(--verdigris);
}
.near,
.missing {
  color: var(--ochre);
}
.back {
  border-left: 3px solid var(--ochre);
  padding-left: var(--space-8);
}
[data-column] {
  width: 19%;
  min-width: 150px;
}
@media (max-width: 1000px) {
  tr {
    display: grid;
    grid-template-columns: 34px minmax(0, 1fr) auto;
    border-top: 1px solid var(--rule);
    padding-block: var(--space-4);
  }
  .more {
    grid-template-columns: 34px minmax(0, 1fr);
    border-top: 0;
  }
  td {
    border-top: 0;
    width: auto;
    min-width: 0;
  }
  .what {
    grid-column: 2 / 4;
    display: flex;
    align-items: center;
  }
  .reads {
    grid-column: 2;
    max-width: none;
    width: auto;
  }
  td.figure:not(:empty) ~ .figure {
    grid-column: 2 / 4;
  }
  td.figure:empty {
    display: none;
  }
  [data-column] {
    grid-column: 2 / 4;
    width: auto;
  }
  tr:not(.ticked) > [data-column] {
    display: none;
  }
}
</style>
