<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Device, DeviceEvent } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import CopyKey from './CopyKey.vue'
import KeyBand from './KeyBand.vue'
import KeyPart from './KeyPart.vue'
import { FILLING } from '@/lib/filling'
import {
  endFor,
  gesturesOf,
  gestureTitle,
  isPart,
  lasts,
  ruleFor,
  shortTitle,
  startsBy,
  startsByGesture,
  waitsFor,
} from '@/lib/keys'
import { doings } from '@/lib/doings'
import { MODE, OWN } from '@/lib/own'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** What a key of a device does, by each gesture that it gives: ordinary rules, made and tried here. */
const props = defineProps<{ device: Device; event: DeviceEvent }>()
const home = useHome()
const notices = useNotices()
const router = useRouter()

/** What a key is told by; its single messages only where a rule listens to them, since the hub makes gestures of them. */
const rows = computed(() =>
  gesturesOf(props.device, props.event)
    .map((gesture) => ({
      gesture,
      title: gestureTitle(props.event, gesture),
      rules: home.rules.filter((r) => startsByGesture(r, props.device, props.event, gesture)),
      choices: choicesOf(gesture),
    }))
    .filter((r) => r.rules.length || !isPart(props.device, props.event, r.gesture)),
)
/** All that it does; what is started by several gestures once. */
const mine = computed(() => home.rules.filter((r) => startsBy(r, props.device.id, props.event.name)))
const choicesOf = (gesture: string) =>
  doings({
    held: lasts(props.device, props.event, gesture),
    scenes: home.scenes,
    devices: home.devices,
    rules: home.rules,
    modes: home.modes?.modes ?? [],
    lights: home.lights,
    sequences: home.sequences,
    own: { device: OWN, mode: MODE },
  })

const seconds = (ms = 0) => `${ms / 1000} s`
/** What a press waits for, said where it does. */
const waiting = computed(() => {
  const meant = rows.value.filter((r) => r.rules.length).map((r) => r.gesture)
  const waits = waitsFor(props.device, props.event, meant)
  const times = props.device.times
  if (waits.more) return `A single press waits ${seconds(times?.within)} here: another may follow.`
  return waits.held ? `A press counts as the key goes up: before, it may become a hold.` : ''
})

const drop = (id: string) => ask(api.DELETE('/api/rules/{id}', { params: { path: { id } } }))
const add = (gesture: string, value: string) =>
  notices.attempt(async () => {
    const doing = choicesOf(gesture).find((d) => d.value === value)!
    const body = ruleFor(props.device, props.event, gesture, doing)
    const saved = await ask(api.POST('/api/rules', { body }))
    const made = [saved.id]
    const takeBack = async () => {
      for (const id of made.toReversed()) await drop(id)
    }
    if (doing.whileHeld) {
      try {
        const end = endFor(props.device, props.event, saved.id, body.title)
        made.push((await ask(api.POST('/api/rules', { body: end }))).id)
      } catch (error) {
        await takeBack() // one without the other would never end
        throw error
      }
    }
    await home.arrived('rule', saved.id)
    notices.done(`Rule ${body.title} made.`, takeBack)
    if (!doing.steps) await router.push({ path: `/rules/${saved.id}`, state: FILLING })
  })
const { remove } = useChanges('rule')
const tryKey = (gesture: string) =>
  notices.attempt(() =>
    ask(
      api.POST('/api/devices/{id}/events/{event}', {
        params: { path: { id: props.device.id, event: props.event.name } },
        body: { value: props.event.number ? (gesture === 'left' ? -1 : 1) : gesture || undefined },
      }),
    ),
  )
</script>

<template>
  <section :aria-label="event.title">
    <h2>{{ event.title }}</h2>
    <KeyBand :device="device" :rules="rows.flatMap((r) => r.rules)" />
    <p v-if="mine.length"><CopyKey :device="device" :event="event" :rules="mine" /></p>
    <p v-if="waiting" class="soft waits">{{ waiting }}</p>
    <ul>
      <li v-for="r in rows" :key="r.gesture">
        <span class="mono soft gesture">{{ r.title }}</span>
        <span class="what">
          <span v-for="one in r.rules" :key="one.id" class="rule">
            <RouterLink class="named" :to="`/rules/${one.id}`" :aria-label="one.title" :title="one.title">{{
              shortTitle(one, device)
            }}</RouterLink>
            <button type="button" class="plain link" :aria-label="`Delete ${one.title}`" @click="remove(one)">×</button>
            <span v-if="!one.enabled" class="soft">off</span>
            <KeyPart :rule="one" />
          </span>
          <TokenPicker
            :model-value="undefined"
            :choices="r.choices"
            :label="`What ${event.title} does when ${r.title}`"
            :empty="r.rules.length ? 'and …' : 'choose what it does …'"
            verb
            @update:model-value="add(r.gesture, $event)"
          />
        </span>
        <Button
          size="small"
          severity="secondary"
          label="Try"
          :aria-label="`Try ${event.title} ${r.title}`"
          @click="tryKey(r.gesture)"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin: var(--space-8) 0 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--ink);
}
li {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) auto;
  gap: var(--space-14);
  align-items: baseline;
  padding: var(--space-10) 0;
  border-bottom: 1px solid var(--rule);
}
.waits {
  margin: var(--space-8) 0 0;
  font-size: var(--type-small);
}
.gesture {
  font-size: var(--type-small);
}
.what {
  display: grid;
  gap: var(--space-4);
  justify-items: start;
}
.rule {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-10);
  align-items: baseline;
}
@media (max-width: 720px) {
  li {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .gesture {
    grid-column: 1 / -1;
  }
}
</style>
