<script setup lang="ts">
import Dialog from 'primevue/dialog'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { act } from '@/lib/act'
import { narrowed, type Choice } from '@/lib/choice'
import { MODE, OWN } from '@/lib/own'
import { placesOf } from '@/lib/places'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'
import { useLook } from '@/stores/look'
import { useNotices } from '@/stores/notices'
import ChoiceList from '@/components/inputs/ChoiceList.vue'

interface Hit extends Choice {
  run: () => unknown
}

const open = defineModel<boolean>('open', { required: true })
const props = defineProps<{
  /** What was typed before its field had the focus. */
  early?: string
  /** Whether Enter was pressed by then: the first is taken. */
  taken?: boolean
}>()
const home = useHome()
const session = useSession()
const look = useLook()
const notices = useNotices()
const router = useRouter()

const words = ref(props.early ?? '')
const MOST = 12

const all = computed<Hit[]>(() => {
  const go = (value: string, title: string, note: string, to: string): Hit => ({
    value,
    title,
    note,
    run: () => router.push(to),
  })
  const page = (title: string, place: string, to: string) =>
    go(to, title, title === place ? 'page' : `page, ${place}`, to)
  const devicesOf = (words: string) => `/devices?search=${encodeURIComponent(words)}`
  return [
    ...home.everything.map((d) => ({
      value: d.id,
      title: d.title,
      note: home.roomTitle(d.room) || 'device',
      run: () => router.push(`/devices/${d.id}`),
    })),
    ...home.rules.map((r) => ({ value: r.id, title: r.title, note: 'rule', run: () => router.push(`/rules/${r.id}`) })),
    ...home.scenes.flatMap((s) => [
      { value: s.id, title: s.title, note: 'scene', run: () => router.push(`/scenes/${s.id}`) },
      {
        value: `${s.id} apply`,
        title: `Apply ${s.title}`,
        note: 'command',
        run: () =>
          notices.attempt(async () => {
            await act.applyScene(s.id)
            notices.done(`Scene ${s.title} applied.`)
          }),
      },
    ]),
    ...home.lights.flatMap((l) => [
      { value: l.id, title: l.title, note: 'light of a room', run: () => router.push(`/lights/${l.id}`) },
      ...(['off', 'full'] as const).map((verb) => ({
        value: `${l.id} ${verb}`,
        title: `${l.title}: ${verb === 'off' ? 'all off' : 'full'}`,
        note: 'command',
        run: () => notices.attempt(() => act.light(l.id, verb)),
      })),
    ]),
    ...home.mirrors.map((m) => ({
      value: m.id,
      title: m.title,
      note: 'mirror',
      run: () => router.push(`/mirrors/${m.id}`),
    })),
    ...home.links.map((l) => ({
      value: l.id,
      title: l.title,
      note: 'link',
      run: () => router.push(`/links/${l.id}`),
    })),
    ...home.curves.map((c) => ({
      value: c.id,
      title: c.title,
      note: 'day curve',
      run: () => router.push(`/curves/${c.id}`),
    })),
    ...home.sequences.flatMap((s) => [
      s.effect
        ? { value: s.id, title: s.title, note: 'moving light', run: () => router.push(`/moving/${s.id}`) }
        : { value: s.id, title: s.title, note: 'sequence', run: () => router.push(`/scenes/${s.id}`) },
      {
        value: `${s.id} play`,
        title: s.state.running ? `Stop ${s.title}` : `Start ${s.title}`,
        note: 'command',
        run: () =>
          notices.attempt(async () => {
            await (s.state.running ? act.stopSequence(s.id) : act.startSequence(s.id))
            notices.done(`Sequence ${s.title} ${s.state.running ? 'stopped' : 'started'}.`)
          }),
      },
    ]),
    ...(home.modes?.modes ?? []).map((m) => ({
      value: `${m.id} set`,
      title: `Mode ${m.title}`,
      note: 'command',
      run: () =>
        notices.attempt(async () => {
          await act.write(OWN, MODE, m.id)
          notices.done(`The mode of the house is ${m.title}.`)
        }),
    })),
    ...home.schedules.map((s) => ({
      value: s.id,
      title: s.title,
      note: 'schedule',
      run: () => router.push(`/schedules/${s.id}`),
    })),
    ...home.dashboards.flatMap((d) => [
      { value: d.id, title: d.title, note: 'dashboard', run: () => router.push(`/panel/${d.id}`) },
      ...(session.setsUp
        ? [
            {
              value: `${d.id} edit`,
              title: `Arrange ${d.title}`,
              note: 'command',
              run: () => router.push(`/dashboards/${d.id}`),
            },
          ]
        : []),
    ]),
    ...home.rooms.map((r) => go(`room ${r.id}`, r.title, r.floor ? `room, ${r.floor}` : 'room', `/room/${r.id}`)),
    ...[...new Set(home.rooms.flatMap((r) => r.floor || []))].map((f) => go(`floor ${f}`, f, 'floor', '/rooms')),
    ...[...new Set(home.devices.flatMap((d) => d.labels ?? []))].map((l) => go(`label ${l}`, l, 'label', devicesOf(l))),
    ...home.groups.map((g) => go(g.id, g.title, 'group', '/household/groups')),
    ...home.variables.map((v) => go(v.id, v.title, 'variable', '/household/groups')),
    ...home.calendars.map((c) => go(c.id, c.title, 'calendar', '/household/calendars')),
    ...placesOf(home, session.setsUp).flatMap((place) =>
      place.parts.map((part) => page(part.title === 'All' ? place.title : part.title, place.title, part.to)),
    ),
    {
      value: 'look',
      title: look.night ? 'Day look' : 'Night look',
      note: 'command',
      run: () => (look.choice = look.night ? 'day' : 'night'),
    },
  ]
})

const found = computed(() => {
  const typed = words.value.trim().toLowerCase()
  const first = typed.split(/\s+/)[0]!
  // What is called exactly so comes before what begins so.
  const rank = (h: Hit) => (h.title.toLowerCase() === typed ? 0 : h.title.toLowerCase().startsWith(first) ? 1 : 2)
  return narrowed(all.value, words.value)
    .sort((a, b) => rank(a) - rank(b))
    .slice(0, MOST)
})
/** What was typed may be meant for a rule that listens to a phrase. */
const phrase = computed<Hit[]>(() => {
  const said = words.value.trim()
  if (!said || !home.rules.some((r) => r.when?.some((t) => t.kind === 'phrase'))) return []
  const say = async () => {
    await ask(api.POST('/api/phrases', { body: { words: said } }))
    notices.done(`What waits for “${said}” was started.`)
  }
  return [{ value: 'say', title: `Start what waits for “${said}”`, note: 'command', run: () => notices.attempt(say) }]
})

const hits = computed(() => found.value.concat(phrase.value))

watch(open, () => (words.value = ''))
watch(
  () => props.early,
  (typed) => typed && (words.value = typed),
)

watch(
  () => props.taken && open.value && hits.value[0]?.value,
  (first) => first && words.value && choose(first),
  { immediate: true },
)

function choose(value: string) {
  const hit = hits.value.find((h) => h.value === value)
  open.value = false
  hit?.run()
}
</script>

<template>
  <Dialog
    v-model:visible="open"
    modal
    :show-header="false"
    position="top"
    :style="{ width: '560px' }"
    :draggable="false"
    dismissable-mask
    :pt="{ root: { 'aria-label': 'Find or go' } }"
  >
    <ChoiceList
      v-model:words="words"
      class="hits"
      :choices="hits"
      label="Results"
      searchable
      placeholder="Device, rule, scene, page or command"
      search-label="Find or go"
      none=" "
      @choose="choose"
    />
    <p v-if="!found.length" class="soft none">Nothing here is called “{{ words }}”.</p>
  </Dialog>
</template>

<style scoped>
.none {
  padding: var(--space-12) var(--space-8);
}
.hits {
  margin-top: var(--space-14);
}
.hits :deep(.p-inputtext) {
  font-size: var(--type-title);
}
</style>
