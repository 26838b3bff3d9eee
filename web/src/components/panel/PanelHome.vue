<script setup lang="ts">
import { useIntervalFn, useWakeLock, useBattery, useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, onBeforeUnmount, onMounted, ref, shallowRef, watch, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Value } from '@/api/types'
import EmptyPage from '@/components/page/EmptyPage.vue'
import { Awake, isNight, type Waker } from '@/lib/panel/awake'
import { usePanelLine, type Order } from '@/lib/panel/line'
import { useSenses } from '@/lib/panel/senses'
import { BEGUN, usePanelSettings, withSetting } from '@/lib/panel/settings'
import { hasVoice, play, speak } from '@/lib/panel/sounds'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'
import PanelView from '@/views/PanelView.vue'
import PanelKeys from './PanelKeys.vue'
import PanelStart from './PanelStart.vue'

/**
 * A tablet on a wall: its dashboards and nothing else. It goes dark and wakes by its own clock, says how it is, and does what the
 * hub tells it.
 */
const CameraFace = defineAsyncComponent(() => import('@/instruments/CameraFace.vue'))
const PanelSheet = defineAsyncComponent(() => import('./PanelSheet.vue'))
const home = useHome()
const session = useSession()
const route = useRoute()
const router = useRouter()
const settings = usePanelSettings()

const SECOND = 1000
const boards = computed(() =>
  (session.view?.dashboards ?? []).flatMap((id) => home.dashboards.find((d) => d.id === id) ?? []),
)
const own = computed(() => boards.value[0])
const here = computed(() => boards.value.find((d) => route.path === `/panel/${d.id}`))
const goHome = () => own.value && router.replace(`/panel/${own.value.id}`)
watchEffect(() => {
  if (home.loaded && !here.value) void goHome()
})

// Lit or dark.
const awake = new Awake(() => settings.value, Date.now())
const lit = ref(true)
const dims = ref(false)
let touched = Date.now()
function woken(by: Waker) {
  const was = awake.wake(by, Date.now())
  lit.value = true
  dims.value = false
  if (was) line.say('wokenBy', by)
  line.say('lit', true)
}
function touch() {
  touched = Date.now()
  woken('touch')
}
/** How it is after what it saw or heard. */
function sensed(was: boolean) {
  if (was) {
    line.say('wokenBy', awake.wokenBy)
    line.say('lit', true)
  }
  lit.value = awake.lit
}

// What it sees and hears.
/** What is told of a meter, at most once in so many ms. */
const TELL_EVERY = 1000
const told = { movement: 0, noise: 0 }
function meter(name: 'movement' | 'noise', level: number) {
  const now = Date.now()
  if (now - told[name] < TELL_EVERY) return
  told[name] = now
  line.say(name, Math.round(level))
}
/** For so long somebody is said to be near after something moved, in ms. */
const NEAR_FOR = 10_000
let movedAt = 0
const senses = useSenses({
  moved(share) {
    const now = Date.now()
    if (settings.value.seesFrom && share >= settings.value.seesFrom) movedAt = now
    line.say('near', now - movedAt < NEAR_FOR)
    meter('movement', share)
    sensed(awake.sense('somebody', share, now))
  },
  heard(level) {
    meter('noise', level)
    sensed(awake.sense('noise', level, Date.now()))
  },
})
const battery = useBattery()
const wakeLock = useWakeLock()

// What it is told.
const message = shallowRef<{ text: string; until: number }>()
const camera = shallowRef<{ device: string; picture: string; title: string; until: number }>()
/** Until when it shows what it was told to, in ms; 0 is until it is touched. */
const until = (inputs: Record<string, Value> | undefined) =>
  typeof inputs?.seconds === 'number' ? Date.now() + inputs.seconds * SECOND : 0
let shownUntil = 0
function named<T extends { title: string }>(all: T[], name: Value | undefined, what: string): T {
  const found = all.find((one) => one.title.toLowerCase() === String(name).trim().toLowerCase())
  if (!found) throw new Error(`This panel was given no ${what} "${String(name)}".`)
  return found
}
async function obey(order: Order): Promise<string | void> {
  if (order.picture || order.action === 'picture') {
    if (!settings.value.takesPictures)
      throw new Error('This panel takes no pictures: that is not allowed in its settings.')
    return senses.picture()
  }
  if (order.property) return set(order.property, order.value ?? null)
  const inputs = order.inputs
  switch (order.action) {
    case 'message':
      message.value = { text: String(inputs?.text ?? ''), until: until(inputs) }
      sayAloud(message.value.text)
      return woken('hub')
    case 'show':
      await router.replace(`/panel/${named(boards.value, inputs?.dashboard, 'dashboard').id}`)
      shownUntil = until(inputs)
      touched = Date.now()
      return woken('hub')
    case 'camera': {
      const cameras = home.devices.filter((d) => d.description.pictures?.length)
      const device = named(cameras, inputs?.camera, 'camera')
      camera.value = {
        device: device.id,
        picture: device.description.pictures![0]!.name,
        title: device.title,
        until: until(inputs),
      }
      return woken('hub')
    }
    case 'sound':
      return play(String(inputs?.sound))
    case 'reload':
      setTimeout(() => location.reload(), SECOND)
      return
    default:
      throw new Error('This panel does not know how.')
  }
}
function set(property: string, value: Value) {
  if (property === 'lit') {
    if (value === true) woken('hub')
    else {
      awake.darken(Date.now())
      lit.value = false
      line.say('lit', false)
    }
    return
  }
  if (property === 'speech') {
    if (value) speak(String(value))
    line.say('speech', value)
    return
  }
  const next = withSetting(settings.value, property, value)
  if (!next) throw new Error('This panel has no such setting.')
  settings.value = next
  line.say(property, value)
}
/** How all of it is. */
function all(): Record<string, Value> {
  const has = battery.isSupported.value
  return {
    ...settings.value,
    lit: lit.value,
    near: Date.now() - movedAt < NEAR_FOR,
    showing: here.value?.title ?? '',
    version: home.about?.version ?? '',
    ...(has && { battery: Math.round(battery.level.value * 100), charging: battery.charging.value }),
  }
}
const line = usePanelLine(obey, all)
watch(
  () => [settings.value, here.value, home.about, battery.level.value, battery.charging.value],
  () => Object.entries(all()).forEach(([property, value]) => line.say(property, value)),
  { deep: true },
)

useIntervalFn(() => {
  const now = Date.now()
  if (awake.tick(now)) {
    lit.value = false
    line.say('lit', false)
  }
  dims.value = awake.dims(now)
  if (message.value?.until && now > message.value.until) message.value = undefined
  if (camera.value?.until && now > camera.value.until) camera.value = undefined
  const back = settings.value.returnAfter * SECOND
  const over = shownUntil ? now > shownUntil : back > 0 && now - touched > back
  if (over && here.value !== own.value) {
    shownUntil = 0
    void goHome()
  }
}, SECOND)
// Questions and messages light it, and are said.
/** For so long a message is new, in ms: a panel that was away does not say what came meanwhile. */
const NEW_FOR = 30_000
const unseen = computed(() => home.notices.filter((n) => !n.seenAt))
watch(unseen, (now, before) => {
  const fresh = now.filter((n) => !before.some((b) => b.id === n.id))
  if (!fresh.length) return
  woken('hub')
  for (const n of fresh) if (home.now - Date.parse(n.at) < NEW_FOR) sayAloud(n.text)
})
/** Says a text where the tablet has a voice and may use it now. */
function sayAloud(text: string) {
  if (settings.value.speaksAloud && !night.value && hasVoice()) speak(text)
}

// A hub that was updated brings another front end.
const version = ref<string>()
watch(
  () => home.about?.version,
  (now) => {
    if (version.value && now && now !== version.value) location.reload()
    version.value ??= now
  },
)

/** The first touch is needed for the whole screen and for sounds; what was begun once begins again by itself. */
const begun = ref(localStorage.getItem(BEGUN) === 'yes')
async function begin() {
  localStorage.setItem(BEGUN, 'yes')
  begun.value = true
  await Promise.allSettled([wakeLock.request('screen'), senses.begin()])
}
onMounted(() => {
  home.join()
  if (begun.value) void begin()
})
onBeforeUnmount(() => home.end())
useEventListener(document, 'visibilitychange', () => begun.value && wakeLock.request('screen').catch(() => undefined))

const sheet = ref(false)
const night = computed(() => {
  const hour = Number(home.times.clock(home.now).slice(0, 2))
  return isNight(hour, settings.value.nightFrom, settings.value.nightUntil)
})
const brightness = computed(() => {
  const { nightLevel, brightness } = settings.value
  return nightLevel && night.value ? Math.min(brightness, nightLevel) : brightness
})
/** How dark the shade over the screen is. */
const shade = computed(() => {
  const DARKEST = 0.85
  if (!begun.value || sheet.value) return 0
  if (!lit.value) return 1
  return (1 - brightness.value / 100) * DARKEST + (dims.value ? 0.3 : 0)
})
const lost = computed(() => home.loaded && home.feed === 'lost')
function answered() {
  message.value = camera.value = undefined
}
</script>

<template>
  <div class="panel-home" :class="{ lost }" @pointerdown.capture="lit && touch()">
    <p v-if="lost" class="gone" role="alert">The hub cannot be reached. What is shown may have changed since.</p>
    <PanelView v-if="here" class="board" :inert="lost || !lit || undefined" />
    <EmptyPage v-else-if="home.loaded" title="This panel has no dashboard">
      <p>Its owner can give it one, under Dashboards › Panels.</p>
    </EmptyPage>
    <p v-else class="soft waiting" role="status">
      {{ home.feed === 'lost' ? 'The hub cannot be reached. Trying again …' : 'Asking the hub …' }}
    </p>
    <PanelKeys
      v-if="session.view?.keys?.length"
      :keys="session.view.keys"
      :inert="lost || !lit || undefined"
      @moved="line.happened"
    />
    <nav class="boards" aria-label="Dashboards">
      <RouterLink v-for="d in boards" :key="d.id" :to="`/panel/${d.id}`" replace>{{ d.title }}</RouterLink>
      <button type="button" class="plain about" aria-label="This panel" @click="sheet = true">⋮</button>
    </nav>
    <section v-if="message" class="over" role="alert">
      <p>{{ message.text }}</p>
      <button type="button" class="plain key" @click="answered">OK</button>
    </section>
    <section v-else-if="camera" class="over camera" :aria-label="camera.title">
      <CameraFace :device="camera.device" :picture="camera.picture" :label="camera.title" :every="2" size="panel" />
      <button type="button" class="plain key" @click="answered">OK</button>
    </section>
    <PanelStart v-if="!begun" :title="session.view?.title ?? ''" @begin="begin" />
    <PanelSheet v-if="sheet" :senses="senses" :settings="settings" :open="line.open.value" @close="sheet = false" />
    <div
      class="shade"
      :class="{ dark: !lit }"
      :style="{ opacity: shade }"
      aria-hidden="true"
      @pointerdown.stop="touch"
    />
  </div>
</template>

<style scoped>
.panel-home {
  position: relative;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto auto;
  height: 100%;
  background: var(--paper);
  user-select: none;
}
.board {
  grid-row: 2;
  min-height: 0;
  overflow-y: auto;
}
/* What is no longer known is hatched over and pale. */
.lost .board {
  opacity: 0.55;
  filter: grayscale(1);
}
.gone {
  grid-row: 1;
  margin: 0;
  padding: var(--space-12) var(--space-26);
  background: var(--sheet);
  border-bottom: 2px solid var(--ember);
  color: var(--ember);
  font-size: var(--type-title);
  font-weight: 650;
}
.boards {
  grid-row: 4;
  display: flex;
  flex-wrap: wrap;
  border-top: 1px solid var(--rule);
}
.boards a {
  display: inline-flex;
  align-items: center;
  min-height: 64px;
  padding: 0 var(--space-26);
  color: var(--ink-soft);
  text-decoration: none;
  border-top: 3px solid transparent;
  font-size: var(--type-lead);
}
.boards .router-link-active {
  color: var(--ink);
  font-weight: 650;
  border-top-color: var(--verdigris);
}
.about {
  width: 64px;
  min-height: 64px;
  margin-left: auto;
  text-align: center;
  color: var(--ink-soft);
  font-size: var(--type-title);
}
.over {
  position: absolute;
  inset: 0;
  z-index: 20;
  display: grid;
  place-content: center;
  gap: var(--space-34);
  padding: var(--space-44);
  background: var(--sheet);
  text-align: center;
  font-size: var(--type-clock);
  line-height: 1.15;
}
.over p {
  margin: 0;
}
.camera {
  place-content: stretch;
  grid-template-rows: minmax(0, 1fr) auto;
  font-size: var(--type-title);
}
.key {
  justify-self: center;
  min-width: 160px;
  min-height: 72px;
  border: 1px solid var(--edge);
  border-bottom-width: 4px;
  border-radius: var(--radius);
  font-size: var(--type-title);
  text-align: center;
}
.waiting {
  padding: var(--space-44);
}
/* Nothing is lighter than black on a screen that is to look off. */
.shade {
  position: fixed;
  inset: 0;
  z-index: 1000;
  background: var(--shade);
  pointer-events: none;
  transition: opacity 0.4s;
}
.shade.dark {
  pointer-events: auto;
  transition: opacity 1.2s;
}
@media (prefers-reduced-motion: reduce) {
  .shade,
  .shade.dark {
    transition: none;
  }
}
</style>
