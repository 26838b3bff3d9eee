<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import Checkbox from 'primevue/checkbox'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Device } from '@/api/types'
import PropertyControl from '@/components/device/PropertyControl.vue'
import PageHead from '@/components/page/PageHead.vue'
import { keysOf, madeOf, ruleCount, rulesOf, startsBy } from '@/lib/keys'
import { useLooking } from '@/lib/looking'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import ArrangeKeys from './ArrangeKeys.vue'
import CopyKeys from './CopyKeys.vue'
import KeyDoings from './KeyDoings.vue'
import KeyPlate from './KeyPlate.vue'
import KeyTimes from './KeyTimes.vue'
import WhoActs from './WhoActs.vue'

/** The keys of a device: drawn, chosen by pressing the real one, and what each of them does. */
const props = defineProps<{ device: Device }>()
const home = useHome()
const notices = useNotices()
useLooking('journal')

const keys = computed(() => keysOf(props.device))
const chosenName = ref<string>()
const chosen = computed(() => keys.value.find((k) => k.name === chosenName.value) ?? keys.value[0])
const mine = computed(() => rulesOf(home.rules, props.device))
const notes = computed(() =>
  Object.fromEntries(
    keys.value.map((k) => {
      const count = mine.value.filter((r) => startsBy(r, props.device.id, k.name)).length
      return [k.name, count ? ruleCount(count) : 'nothing yet']
    }),
  ),
)

const arranging = ref(false)
/** Whether a key that is pressed in the drawing does what the real one would, be it pressed, pressed twice, or held. */
const trying = ref(false)
const gave = (event: string, value: string | number | undefined) =>
  notices.attempt(() =>
    ask(
      api.POST('/api/devices/{id}/events/{event}', {
        params: { path: { id: props.device.id, event } },
        body: { value },
      }),
    ),
  )
/** Whether the hub itself tells any of its gestures apart. */
const tellsApart = computed(() => keys.value.some((k) => madeOf(props.device, k).length > 0))

/** What was pressed at the device last, by the journal. */
const last = computed(() => home.entries.find((e) => e.kind === 'happened' && e.device === props.device.id))
const LIT_FOR = 1500
const lit = ref<string>()
const dark = useTimeoutFn(() => (lit.value = undefined), LIT_FOR, { immediate: false })
/** Presses of before this page was opened light nothing. */
const opened = home.now
watch(last, (now) => {
  if (!now || Date.parse(now.at) < opened || !keys.value.some((k) => k.name === now.name)) return
  lit.value = chosenName.value = now.name
  dark.start()
})
const handler = computed(() => props.device.description.properties.find((p) => p.role === 'handler'))
/** What a handler is set to where the maker's box leaves a press to the hub. */
const LEFT_TO_US = 'client'
const acting = computed(() => mine.value.filter((r) => r.enabled))
const handlerState = computed(() => props.device.states.find((s) => s.name === handler.value?.name))
</script>

<template>
  <PageHead :title="device.title">
    {{ [home.roomTitle(device.room), `${device.maker} ${device.model}`].filter(Boolean).join(' · ') }}
    <template #buttons>
      <RouterLink class="link" :to="`/devices/${device.id}`">The device</RouterLink>
    </template>
  </PageHead>
  <p v-if="device.silent" class="silent" role="alert">{{ device.silentReason }}</p>
  <div class="columns">
    <div class="side">
      <ArrangeKeys v-if="arranging" :device="device" :keys="keys" @done="arranging = false" />
      <KeyPlate
        v-else
        :label="`Keys of ${device.title}`"
        :keys="keys"
        :chosen="chosen?.name"
        :lit="lit"
        :notes="notes"
        :trying="trying"
        @gave="gave"
        @choose="chosenName = $event"
      />
      <p class="soft small">Press a key of the real device: it lights up here.</p>
      <label class="small try">
        <Checkbox v-model="trying" binary />
        A key pressed here does what the real one would
      </label>
      <p v-if="last" class="small" role="status">
        Last: <b>{{ last.text }}</b> <span class="mono soft">{{ home.times.exact(last.at) }}</span>
      </p>
      <template v-if="handler && handlerState">
        <h2>Who acts on it</h2>
        <p class="soft small">{{ handler.help }}</p>
        <PropertyControl :device="device.id" :property="handler" :state="handlerState" />
        <WhoActs
          v-if="handlerState.value !== LEFT_TO_US && acting.length"
          :device="device"
          :handler="handler"
          :rules="acting"
        />
      </template>
      <KeyTimes v-if="tellsApart" :device="device" />
      <p><CopyKeys :device="device" /></p>
      <p v-if="!arranging">
        <button type="button" class="plain link" @click="arranging = true">Arrange the keys</button>
      </p>
      <template v-if="mine.length">
        <h2>Made from this</h2>
        <p class="small">
          <RouterLink class="link" :to="{ path: '/rules', query: { label: device.title } }">{{
            ruleCount(mine.length)
          }}</RouterLink>
          <span class="soft"> · ordinary ones; change them here or there</span>
        </p>
      </template>
    </div>
    <KeyDoings v-if="chosen" :key="chosen.name" :device="device" :event="chosen" />
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(240px, 300px) minmax(0, 1fr);
  gap: var(--space-34);
  margin-top: var(--space-20);
}
.side {
  display: grid;
  gap: var(--space-10);
  align-content: start;
}
.small {
  font-size: var(--type-small);
  margin: 0;
}
.try {
  display: flex;
  gap: var(--space-8);
  align-items: center;
}
.silent {
  color: var(--ember);
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
