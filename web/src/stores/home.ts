import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, ask } from '@/api/client'
import { follow } from '@/api/live'
import type {
  About,
  Calendar,
  Connection,
  Dashboard,
  Day,
  Device,
  Entry,
  Found,
  Group,
  House,
  Message,
  Modes,
  Need,
  Notice,
  Pairing,
  Property,
  PropertyState,
  Rule,
  Scene,
  Schedule,
  Sequence,
  Variable,
} from '@/api/types'
import { Times } from '@/lib/format'
import { deviceSets } from '@/lib/sets'

const NEWEST_ENTRIES = 100
const DAY_DELAY = 700
const newestFirst = (a: Notice, b: Notice) => b.at.localeCompare(a.at)

/** All that this browser knows of the home, kept true by the live feed. */
export const useHome = defineStore('home', () => {
  const about = shallowRef<About>()
  const house = shallowRef<House>()
  const needs = shallowRef<Need[]>([])
  /** All that has properties: the devices, and the home itself. */
  const everything = shallowRef<Device[]>([])
  const devices = computed(() => everything.value.filter((d) => !d.own))
  const scenes = shallowRef<Scene[]>([])
  const rules = shallowRef<Rule[]>([])
  const schedules = shallowRef<Schedule[]>([])
  const dashboards = shallowRef<Dashboard[]>([])
  const connections = shallowRef<Connection[]>([])
  const found = shallowRef<Found>({ bridges: [], devices: [] })
  const groups = shallowRef<Group[]>([])
  const variables = shallowRef<Variable[]>([])
  const sequences = shallowRef<Sequence[]>([])
  const calendars = shallowRef<Calendar[]>([])
  const modes = shallowRef<Modes>()
  const notices = shallowRef<Notice[]>([])
  const pairing = shallowRef<Pairing>()
  const day = shallowRef<Day>()
  const entries = shallowRef<Entry[]>([])
  const benchChanged = ref(0)
  const trialChanged = ref(0)
  const feed = ref<'joining' | 'live' | 'lost'>('joining')
  const loaded = ref(false)
  const ahead = ref(0) // how far the hub's clock is ahead of this browser's, in ms
  const now = ref(Date.now())

  const times = computed(() => new Times(house.value?.zone || 'UTC'))
  const rooms = computed(() => house.value?.rooms ?? [])
  /** What rules can speak of as one: groups, and the devices of rooms, floors and labels. */
  const sets = computed(() => deviceSets(groups.value, rooms.value, devices.value))
  const newcomers = computed(() => found.value.devices.filter((d) => !d.device).length)

  const readers = {
    home: async () => {
      house.value = await ask(api.GET('/api/home'))
      ahead.value = new Date(house.value.now).getTime() - Date.now()
      now.value = Date.now() + ahead.value
    },
    device: async () => void (everything.value = await ask(api.GET('/api/devices'))),
    scene: async () => void (scenes.value = await ask(api.GET('/api/scenes'))),
    rule: async () => void (rules.value = await ask(api.GET('/api/rules'))),
    schedule: async () => void (schedules.value = await ask(api.GET('/api/schedules'))),
    dashboard: async () => void (dashboards.value = await ask(api.GET('/api/dashboards'))),
    connection: async () => void (connections.value = await ask(api.GET('/api/connections'))),
    found: async () => void (found.value = await ask(api.GET('/api/found'))),
    day: async () => void (day.value = await ask(api.GET('/api/day'))),
    group: async () => void (groups.value = await ask(api.GET('/api/groups'))),
    variable: async () => void (variables.value = await ask(api.GET('/api/variables'))),
    sequence: async () => void (sequences.value = await ask(api.GET('/api/sequences'))),
    calendar: async () => void (calendars.value = await ask(api.GET('/api/calendars'))),
    modes: async () => void (modes.value = await ask(api.GET('/api/modes'))),
    notice: async () => void (notices.value = await ask(api.GET('/api/notices'))),
    needs: async () => void (needs.value = await ask(api.GET('/api/needs'))),
    about: async () => void (about.value = await ask(api.GET('/api/about'))),
    pairing: async () => {
      const { data } = await api.GET('/api/pairing')
      pairing.value = data ?? undefined
    },
    journal: async () =>
      void (entries.value = await ask(api.GET('/api/journal', { params: { query: { limit: NEWEST_ENTRIES } } }))),
  }
  type Reader = keyof typeof readers

  // An answer may have been made before a change that was told while it was on its way. So what is told during a
  // reading is applied once more after it: in the end the last word counts, in whichever order they came.
  let reading = 0
  let toldMeanwhile: Message[] = []
  async function read(kind: Reader) {
    reading++
    try {
      await readers[kind]()
    } finally {
      reading--
      for (const m of toldMeanwhile) apply(m)
      if (reading === 0) toldMeanwhile = []
    }
  }

  // Several messages about one kind in a row cause one reading, after the last of them.
  const due = new Map<Reader, ReturnType<typeof setTimeout>>()
  function readSoon(kind: Reader, delay = 30) {
    clearTimeout(due.get(kind))
    due.set(
      kind,
      setTimeout(() => void read(kind).catch(() => undefined), delay),
    )
  }

  async function readAll() {
    await Promise.all((Object.keys(readers) as Reader[]).map(read))
    loaded.value = true
  }

  function patch<T extends { id: string }>(list: { value: T[] }, id: string | undefined, change: (item: T) => T) {
    list.value = list.value.map((item) => (item.id === id ? change(item) : item))
  }

  /** Takes over the state that a message carries. Doing so twice does no harm. */
  function apply(m: Message) {
    switch (m.kind) {
      case 'property':
        patch(everything, m.id, (d) => ({
          ...d,
          states: d.states.map((s) => (m.property && s.name === m.property.name ? m.property : s)),
        }))
        break
      case 'rule':
        patch(rules, m.id, (r) => (m.rule ? { ...r, state: m.rule } : r))
        break
      case 'draft':
        patch(rules, m.id, (r) => ({ ...r, draft: m.draft }))
        break
      case 'schedule':
        patch(schedules, m.id, (s) => (m.schedule ? { ...s, state: m.schedule } : s))
        break
      case 'scene':
        patch(scenes, m.id, (s) => ({ ...s, inEffect: m.inEffect ?? false }))
        break
      case 'pairing':
        pairing.value = m.pairing
        break
      case 'notice': {
        const notice = m.notice
        if (notice) notices.value = [notice, ...notices.value.filter((n) => n.id !== notice.id)].sort(newestFirst)
        break
      }
      case 'journal': {
        const entry = m.entry
        if (entry && !entries.value.some((e) => e.id === entry.id))
          entries.value = [entry, ...entries.value].slice(0, NEWEST_ENTRIES * 2)
      }
    }
  }

  function told(m: Message) {
    if (reading > 0) toldMeanwhile.push(m)
    apply(m)
    switch (m.kind) {
      case 'schedule':
      case 'journal':
        readSoon('day', DAY_DELAY)
        break
      case 'definition':
      case 'removed':
        definitionChanged(m.definition ?? '')
        break
      case 'connection':
        readSoon('connection')
        readSoon('device')
        readSoon('found')
        break
      case 'found':
        readSoon('found')
        break
      case 'clock':
        readSoon('home')
        readSoon('day')
        readSoon('schedule')
        readSoon('calendar')
        break
      case 'bench':
        benchChanged.value++
        break
      case 'needs':
        readSoon('needs')
        break
      case 'trial':
        trialChanged.value++
    }
  }

  function definitionChanged(kind: string) {
    if (kind === 'room' || kind === 'home') {
      readSoon('home')
      readSoon('day', DAY_DELAY)
    } else if (kind in readers) {
      readSoon(kind as Reader)
    }
    // What uses what, problems of rules, and what is found depend on the others.
    if (kind === 'device') for (const k of ['found', 'rule', 'schedule', 'scene', 'group'] as const) readSoon(k)
    if (kind === 'rule' || kind === 'schedule')
      for (const k of ['group', 'variable', 'modes', 'calendar', 'sequence'] as const) readSoon(k)
    if (kind === 'group' || kind === 'calendar') readSoon('rule')
    if (kind === 'scene') for (const k of ['rule', 'schedule', 'sequence'] as const) readSoon(k)
    if (!['device', 'room', 'sequence', 'calendar'].includes(kind)) readSoon('device')
    if (kind === 'sequence') readSoon('scene')
    if (kind === 'schedule') readSoon('day', DAY_DELAY)
  }

  let leave: (() => void) | undefined
  let ticking: ReturnType<typeof setInterval> | undefined

  function begin() {
    leave = follow({
      joined: async () => {
        await readAll()
        feed.value = 'live'
      },
      told,
      lost: () => (feed.value = 'lost'),
    })
    ticking = setInterval(() => (now.value = Date.now() + ahead.value), 500)
  }

  function end() {
    leave?.()
    clearInterval(ticking)
  }

  const device = (id: string | undefined) => everything.value.find((d) => d.id === id)
  const scene = (id: string | undefined) => scenes.value.find((s) => s.id === id)
  const sequence = (id: string | undefined) => sequences.value.find((s) => s.id === id)
  const set = (id: string | undefined) => sets.value.find((s) => s.id === id)
  const rule = (id: string | undefined) => rules.value.find((r) => r.id === id)
  const roomTitle = (id: string | undefined) => rooms.value.find((r) => r.id === id)?.title ?? ''

  function property(deviceID: string | undefined, name: string | undefined): Property | undefined {
    return device(deviceID)?.description.properties.find((p) => p.name === name)
  }
  function state(deviceID: string | undefined, name: string | undefined): PropertyState | undefined {
    return device(deviceID)?.states.find((s) => s.name === name)
  }

  return {
    about,
    house,
    needs,
    rooms,
    devices,
    everything,
    scenes,
    rules,
    schedules,
    dashboards,
    connections,
    found,
    newcomers,
    groups,
    sets,
    variables,
    calendars,
    sequences,
    modes,
    notices,
    pairing,
    day,
    entries,
    benchChanged,
    trialChanged,
    feed,
    loaded,
    now,
    times,
    begin,
    end,
    told,
    read,
    device,
    scene,
    rule,
    set,
    sequence,
    roomTitle,
    property,
    state,
  }
})
