<script setup lang="ts">
import Dialog from 'primevue/dialog'
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { act } from '@/lib/act'
import { MODE, OWN } from '@/lib/own'
import { useHome } from '@/stores/home'
import { useLook } from '@/stores/look'
import { useNotices } from '@/stores/notices'

interface Hit {
  key: string
  title: string
  kind: string
  run: () => unknown
}

const open = defineModel<boolean>('open', { required: true })
const home = useHome()
const look = useLook()
const notices = useNotices()
const router = useRouter()

const words = ref('')
const at = ref(0)
const input = ref<HTMLInputElement>()
const MOST = 12

const all = computed<Hit[]>(() => {
  const page = (title: string, to: string): Hit => ({ key: to, title, kind: 'page', run: () => router.push(to) })
  return [
    ...home.everything.map((d) => ({
      key: d.id,
      title: d.title,
      kind: home.roomTitle(d.room) || 'device',
      run: () => router.push(`/devices/${d.id}`),
    })),
    ...home.rules.map((r) => ({ key: r.id, title: r.title, kind: 'rule', run: () => router.push(`/rules/${r.id}`) })),
    ...home.scenes.flatMap((s) => [
      { key: s.id, title: s.title, kind: 'scene', run: () => router.push(`/scenes/${s.id}`) },
      {
        key: `${s.id} apply`,
        title: `Apply ${s.title}`,
        kind: 'command',
        run: () =>
          notices.attempt(async () => {
            await act.applyScene(s.id)
            notices.done(`Scene ${s.title} applied.`)
          }),
      },
    ]),
    ...home.sequences.flatMap((s) => [
      { key: s.id, title: s.title, kind: 'sequence', run: () => router.push(`/scenes/${s.id}`) },
      {
        key: `${s.id} play`,
        title: s.state.running ? `Stop ${s.title}` : `Start ${s.title}`,
        kind: 'command',
        run: () =>
          notices.attempt(async () => {
            await (s.state.running ? act.stopSequence(s.id) : act.startSequence(s.id))
            notices.done(`Sequence ${s.title} ${s.state.running ? 'stopped' : 'started'}.`)
          }),
      },
    ]),
    ...(home.modes?.modes ?? []).map((m) => ({
      key: `${m.id} set`,
      title: `Mode ${m.title}`,
      kind: 'command',
      run: () =>
        notices.attempt(async () => {
          await act.write(OWN, MODE, m.id)
          notices.done(`The mode of the house is ${m.title}.`)
        }),
    })),
    ...home.schedules.map((s) => ({
      key: s.id,
      title: s.title,
      kind: 'schedule',
      run: () => router.push(`/schedules/${s.id}`),
    })),
    ...home.dashboards.flatMap((d) => [
      { key: d.id, title: d.title, kind: 'dashboard', run: () => router.push(`/panel/${d.id}`) },
      {
        key: `${d.id} edit`,
        title: `Arrange ${d.title}`,
        kind: 'command',
        run: () => router.push(`/dashboards/${d.id}`),
      },
    ]),
    page('Found', '/found'),
    page('Devices', '/devices'),
    page('Scenes', '/scenes'),
    page('Rules', '/rules'),
    page('Schedules', '/schedules'),
    page('Dashboards', '/dashboards'),
    page('Household', '/household'),
    page('Journal', '/journal'),
    page('Needs you', '/needs'),
    page('History', '/history'),
    ...(home.about?.bench ? [page('Bench', '/bench')] : []),
    page('Care', '/care'),
    page('Rooms', '/rooms'),
    page('House', '/house'),
    {
      key: 'look',
      title: look.night ? 'Day look' : 'Night look',
      kind: 'command',
      run: () => (look.choice = look.night ? 'day' : 'night'),
    },
  ]
})

const found = computed(() => {
  const wanted = words.value.toLowerCase().split(/\s+/).filter(Boolean)
  const rank = (h: Hit) => (h.title.toLowerCase().startsWith(wanted[0] ?? '') ? 0 : 1)
  return all.value
    .filter((h) => wanted.every((w) => `${h.title} ${h.kind}`.toLowerCase().includes(w)))
    .sort((a, b) => rank(a) - rank(b))
    .slice(0, MOST)
})
/** What was typed may be meant for a rule that listens to a phrase. */
const phrase = computed<Hit[]>(() => {
  const said = words.value.trim()
  if (!said || !home.rules.some((r) => r.when?.some((t) => t.kind === 'phrase'))) return []
  const say = async () => {
    await ask(api.POST('/api/phrases', { body: { words: said } }))
    notices.done(`“${said}” was said to the rules.`)
  }
  return [{ key: 'say', title: `Say “${said}”`, kind: 'to rules', run: () => notices.attempt(say) }]
})

const hits = computed(() => found.value.concat(phrase.value))

watch(words, () => (at.value = 0))
watch(open, async (now) => {
  if (!now) return
  words.value = ''
  at.value = 0
  await nextTick()
  input.value?.focus()
})

function choose(hit: Hit | undefined) {
  if (!hit) return
  open.value = false
  hit.run()
}

function onKey(event: KeyboardEvent) {
  const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
  if (step) {
    event.preventDefault()
    at.value = (at.value + step + hits.value.length) % Math.max(1, hits.value.length)
  } else if (event.key === 'Enter') {
    event.preventDefault()
    choose(hits.value[at.value])
  }
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
    <input
      ref="input"
      v-model="words"
      class="words"
      type="text"
      placeholder="Device, rule, scene, page or command"
      role="combobox"
      aria-label="Find or go"
      aria-expanded="true"
      aria-controls="palette-hits"
      :aria-activedescendant="hits[at] ? `hit-${at}` : undefined"
      @keydown="onKey"
    />
    <ul id="palette-hits" role="listbox" aria-label="Results">
      <li
        v-for="(hit, i) in hits"
        :id="`hit-${i}`"
        :key="hit.key"
        role="option"
        :aria-selected="i === at"
        :class="{ at: i === at }"
        @mousemove="at = i"
        @click="choose(hit)"
      >
        <span>{{ hit.title }}</span><span class="soft kind">{{ hit.kind }}</span>
      </li>
    </ul>
    <p v-if="!found.length" class="soft none">Nothing here is called “{{ words }}”.</p>
  </Dialog>
</template>

<style scoped>
.words {
  width: 100%;
  margin-top: 14px;
  padding: 8px 2px;
  font-size: 19px;
  background: transparent;
  border: 0;
  border-bottom: 2px solid var(--verdigris);
  outline: none;
}
ul {
  margin-top: 8px;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  padding: 7px 8px;
  border-radius: 2px;
  cursor: pointer;
}
.at {
  background: var(--verdigris-wash);
}
.kind {
  font-size: 13.5px;
}
.none {
  padding: 12px 8px;
}
</style>
