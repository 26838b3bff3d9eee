import { createEventHook, useIntervalFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import { api, ask, Problem, reasonOf } from '@/api/client'
import { follow, type Feed, type Known } from '@/api/live'
import type {
  About,
  Day,
  Device,
  Entry,
  Found,
  FoundDevice,
  House,
  Message,
  Property,
  PropertyState,
  Sample,
  Shown,
  Update,
  Value,
} from '@/api/types'
import { useSession } from './session'
import { AskedFor, HEARD_WITHIN } from '@/lib/askedFor'
import { Times } from '@/lib/format'
import { oncePerFrame, Pace } from '@/lib/frames'
import { deviceSets } from '@/lib/sets'
import { mergePatch, Shelf } from '@/lib/shelf'

const NEWEST_ENTRIES = 100
/** How long something that was just made may take to be told, in ms. */
const ARRIVES_WITHIN = 10_000

/** The kinds of what is shown, and what an entry of each is. */
type Kind = keyof Shown['entries']
type View<K extends Kind> = Shown['entries'][K][string]

/** What is told only to those who look at it. */
type Looked = 'journal' | 'bench' | 'trial' | 'flow' | 'message'

const named = (a: { title: string; id: string }, b: { title: string; id: string }) =>
  a.title.toLowerCase().localeCompare(b.title.toLowerCase()) || a.id.localeCompare(b.id)
const text = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0)
const none = () => 0

/** All that this browser knows of the home, kept true by the live feed: read once, then told what changes. */
export const useHome = defineStore('home', () => {
  const about = shallowRef<About>()
  const shelves: { [K in Kind]: Shelf<View<K>> } = {
    home: new Shelf<View<'home'>>(none),
    room: new Shelf<View<'room'>>((a, b) => a.order - b.order || text(a.id, b.id)),
    connection: new Shelf<View<'connection'>>((a, b) => Number(b.standing) - Number(a.standing) || named(a, b)),
    device: new Shelf<View<'device'>>(named),
    group: new Shelf<View<'group'>>(named),
    scene: new Shelf<View<'scene'>>(named),
    sequence: new Shelf<View<'sequence'>>(named),
    link: new Shelf<View<'link'>>(named),
    mirror: new Shelf<View<'mirror'>>(named),
    curve: new Shelf<View<'curve'>>(named),
    light: new Shelf<View<'light'>>(named),
    rule: new Shelf<View<'rule'>>(named),
    schedule: new Shelf<View<'schedule'>>(named),
    dashboard: new Shelf<View<'dashboard'>>((a, b) => (a.order ?? 0) - (b.order ?? 0) || named(a, b)),
    variable: new Shelf<View<'variable'>>(named),
    person: new Shelf<View<'person'>>(named),
    modes: new Shelf<View<'modes'>>(none),
    calendar: new Shelf<View<'calendar'>>(named),
    found: new Shelf<View<'found'>>(foundOrder),
    bridge: new Shelf<View<'bridge'>>((a, b) => text(a.address, b.address)),
    notice: new Shelf<View<'notice'>>((a, b) => text(b.at, a.at)),
    needs: new Shelf<View<'needs'>>(none),
    pairing: new Shelf<View<'pairing'>>(none),
    day: new Shelf<View<'day'>>(none),
    mark: new Shelf<View<'mark'>>((a, b) => text(a.at, b.at)),
  }

  const entries = shallowRef<Entry[]>([])
  const entriesFailed = ref('') // why the newest could not be read
  const benchChanged = ref(0)
  const trialChanged = ref(0)
  const feed = ref<'joining' | 'live' | 'lost'>('joining')
  const loaded = ref(false)
  const ahead = ref(0) // how far the hub's clock is ahead of this browser's, in ms
  const now = ref(Date.now())

  /** All that has properties: the devices, and the home itself. */
  const everything = shelves.device.list
  const devices = computed(() => everything.value.filter((d) => !d.own))
  const rooms = shelves.room.list
  const house = computed<House | undefined>(() => {
    const document = shelves.home.list.value[0]
    return document && { ...document, rooms: rooms.value, now: '' }
  })
  const found = computed<Found>(() => ({ devices: shelves.found.list.value, bridges: shelves.bridge.list.value }))
  const day = computed<Omit<Day, 'now'> | undefined>(() => {
    const light = shelves.day.list.value[0]
    return light && { ...light, marks: shelves.mark.list.value }
  })
  const modes = computed(() => shelves.modes.list.value[0])
  const needs = computed(() => shelves.needs.list.value[0]?.needs ?? [])
  const pairing = computed(() => shelves.pairing.list.value[0])
  const groups = shelves.group.list
  const rules = shelves.rule.list
  // Who only lives in the house is not offered what is hidden from the household.
  const session = useSession()
  const offered = <T extends { hidden?: boolean }>(list: T[]) => list.filter((x) => !x.hidden || session.setsUp)
  const scenes = computed(() => offered(shelves.scene.list.value))
  const sequences = computed(() => offered(shelves.sequence.list.value))

  const zone = computed(() => house.value?.zone || 'UTC')
  const times = computed(() => new Times(zone.value))
  /** What rules can speak of as one: groups, and the devices of rooms, floors and labels. */
  const sets = computed(() => deviceSets(groups.value, rooms.value, devices.value))
  const newcomers = computed(() => found.value.devices.filter((d) => !d.device).length)

  let known: Known | undefined
  async function readAll() {
    const [shown] = await Promise.all([
      ask(api.GET('/api/shown')),
      ask(api.GET('/api/about')).then((a) => (about.value = a)),
      ask(api.GET('/api/session')).then((session) => setClock(session.now)),
    ])
    for (const kind of Object.keys(shelves) as Kind[])
      (shelves[kind] as Shelf<unknown>).fill(shown.entries[kind] as Record<string, unknown>)
    asked.clear()
    settle()
    known = { run: shown.run, number: shown.number }
    loaded.value = true
  }
  const settle = () => Object.values(shelves).forEach((shelf) => shelf.settle())
  /** Before each picture, what changed; of many devices as many as can be drawn in time, the others before the next. */
  const pace = new Pace()
  const settleSoon = oncePerFrame((began) => {
    pace.picture(began)
    const { shown, more } = shelves.device.settle(pace.atMost)
    for (const shelf of Object.values(shelves)) if (shelf !== shelves.device) shelf.settle()
    void nextTick(() => {
      pace.took(shown, performance.now() - began)
      if (more) settleSoon()
    })
  })

  function setClock(at: string) {
    ahead.value = new Date(at).getTime() - Date.now()
    now.value = Date.now() + ahead.value
  }

  /** Takes a message: what it says is new counts; where something is missing, all is read again first. */
  async function told(m: Message) {
    for (const at of m.looked ?? []) void begin(at as Looked)
    if (m.anew) {
      if (known) void useSession().read() // what this browser may has changed, or what it was given
      await readAll()
    } else if (known && m.number > known.number) {
      for (const u of m.changes.toSorted((a, b) => parts(a) - parts(b))) apply(u)
      settleSoon()
      known = { ...known, number: m.number }
    }
    feed.value = 'live'
  }
  /** Devices come before their properties. */
  const parts = (u: Update) => Number(u.of === 'property')

  function apply(u: Update) {
    const id = u.id ?? ''
    if (u.of === 'property') return applyProperty(id, u)
    if (u.of in shelves) return applyEntry(shelves[u.of as Kind] as Shelf<unknown>, id, u)
    if (u.of === 'clock') setClock((u.put as { now: string }).now)
    else if (u.of === 'bench') benchChanged.value++
    else if (u.of === 'trial') trialChanged.value++
    else if (u.of === 'message') newestMessage.value = (u.put as { newest: number }).newest
    else if (u.of === 'flow') void flowed.trigger({ link: id, samples: (u.put as { samples: Sample[] }).samples })
    else if (u.of === 'journal') {
      const entry = u.put as Entry
      if (!entries.value.some((e) => e.id === entry.id))
        entries.value = [entry, ...entries.value].slice(0, NEWEST_ENTRIES * 2)
    }
  }
  function applyEntry(shelf: Shelf<unknown>, id: string, u: Update) {
    if (u.gone) shelf.drop(id)
    else if (u.patch) shelf.change(id, (entry) => mergePatch(entry, u.patch))
    else if (shelf === shelves.device) {
      const states = shelves.device.get(id)?.states ?? []
      shelf.put(id, { ...(u.put as Device), states })
    } else shelf.put(id, u.put)
  }
  function applyProperty(id: string, u: Update) {
    shelves.device.change(id, (d) => {
      const states = d.states.filter((s) => s.name !== u.name)
      const shown = d.states.find((s) => s.name === u.name)
      const before = shown && asked.told(`${id} ${u.name}`, shown)
      if (u.gone || (u.patch && !before)) return { ...d, states }
      const now = u.patch ? mergePatch(before!, u.patch) : (u.put as PropertyState)
      if (before) return { ...d, states: d.states.map((s) => (s === shown ? now : s)) }
      const place = (s: PropertyState) => d.description.properties.findIndex((p) => p.name === s.name)
      return { ...d, states: [...states, now].sort((a, b) => place(a) - place(b)) }
    })
  }

  /** What was asked for here and not heard of yet. */
  const asked = new AskedFor()
  function changeState(id: string, name: string, change: (state: PropertyState) => PropertyState) {
    shelves.device.change(id, (d) => ({ ...d, states: d.states.map((s) => (s.name === name ? change(s) : s)) }))
    settleSoon()
  }
  /**
   * Shows a value as asked for from the next picture on, while the hub is told; where that fails, or the hub says nothing of it
   * soon after, it is as it was.
   */
  async function askingFor<T>(id: string, name: string, value: Value, tell: () => Promise<T>): Promise<T> {
    const key = `${id} ${name}`
    changeState(id, name, (s) => (s.value === value && s.certainty !== 'pending' ? s : asked.ask(key, s, value)))
    const turn = asked.turn(key)
    const takeBack = () => {
      if (turn !== undefined && asked.turn(key) === turn) changeState(id, name, (s) => asked.told(key, s))
    }
    try {
      const answer = await tell()
      setTimeout(takeBack, HEARD_WITHIN)
      return answer
    } catch (error) {
      takeBack()
      throw error
    }
  }

  /** Returns once something that was just made, or changed to a revision, is shown here. */
  async function arrived(kind: Kind, id: string, revision = 0) {
    const there = () => {
      const entry = shelves[kind].one(id)
      return !!entry && (!('revision' in entry) || entry.revision >= revision)
    }
    await new Promise<void>((resolve, reject) => {
      const limit = setTimeout(() => {
        stop()
        reject(new Problem(0, 'It is saved. The hub cannot be reached to show it.'))
      }, ARRIVES_WITHIN)
      const stop = watch(
        there,
        (is) => {
          if (!is) return
          clearTimeout(limit)
          resolve()
          queueMicrotask(() => stop())
        },
        { immediate: true },
      )
    })
  }

  /** The number of the newest message over any connection, while somebody looks. */
  const newestMessage = ref(0)
  /** What goes through links, and that it is told from now on. */
  const flowed = createEventHook<{ link: string; samples: Sample[] }>()
  const flowing = createEventHook()

  // What is told only to those who look, by how many do.
  const looking = new Map<Looked, number>()
  async function begin(at: Looked) {
    if (at === 'flow') void flowing.trigger()
    if (at !== 'journal') return
    entriesFailed.value = ''
    try {
      const read = await ask(api.GET('/api/journal', { params: { query: { limit: NEWEST_ENTRIES } } }))
      // What was told meanwhile is newer than what was read.
      const newest = read[0]?.id ?? 0
      entries.value = [...entries.value.filter((e) => e.id > newest), ...read]
    } catch (error) {
      entriesFailed.value = reasonOf(error)
    }
  }
  /**
   * Says that a page looks at something, until it calls what is returned. Once the hub answers that it tells of it from now
   * on, what was before is read.
   */
  function look(at: Looked): () => void {
    const lookers = (by: number) => {
      const count = (looking.get(at) ?? 0) + by
      if (count) looking.set(at, count)
      else looking.delete(at)
      if (count === 0 || (count === 1 && by === 1)) live?.look([...looking.keys()])
    }
    lookers(1)
    return () => void lookers(-1)
  }

  let live: Feed | undefined
  const clock = useIntervalFn(() => (now.value = Date.now() + ahead.value), 500, { immediate: false })
  /** Takes that the feed broke: the hub cannot be reached, or this browser is not let in any more. */
  function lost() {
    feed.value = 'lost'
    void useSession().read()
  }
  function join() {
    live = follow({ known: () => known, told, lost })
    live.look([...looking.keys()])
    clock.resume()
  }
  function end() {
    live?.end()
    clock.pause()
  }

  const device = (id: string | undefined) => shelves.device.one(id)
  const scene = (id: string | undefined) => shelves.scene.one(id)
  const curve = (id: string | undefined) => shelves.curve.one(id)
  const sequence = (id: string | undefined) => shelves.sequence.one(id)
  const set = (id: string | undefined) => sets.value.find((s) => s.id === id)
  const rule = (id: string | undefined) => shelves.rule.one(id)
  /** The color of a person's marks, as a style; nothing where nobody is known, or none was chosen. */
  function markOf(personID: string | undefined) {
    const color = personID && shelves.person.one(personID)?.color
    return color ? { '--mark': `var(--${color})` } : undefined
  }
  const roomTitle = (id: string | undefined) => shelves.room.one(id)?.title ?? ''

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
    schedules: shelves.schedule.list,
    dashboards: shelves.dashboard.list,
    connections: shelves.connection.list,
    found,
    newcomers,
    groups,
    sets,
    variables: shelves.variable.list,
    people: shelves.person.list,
    calendars: shelves.calendar.list,
    sequences,
    links: shelves.link.list,
    mirrors: shelves.mirror.list,
    lights: shelves.light.list,
    curves: shelves.curve.list,
    newestMessage,
    onFlow: flowed.on,
    onFlowing: flowing.on,
    /** The time by the hub's clock, to the millisecond. */
    moment: () => Date.now() + ahead.value,
    modes,
    notices: shelves.notice.list,
    pairing,
    day,
    entries,
    entriesFailed,
    begin,
    benchChanged,
    trialChanged,
    feed,
    loaded,
    now,
    times,
    join,
    end,
    told,
    look,
    arrived,
    askingFor,
    device,
    scene,
    curve,
    rule,
    set,
    sequence,
    link: (id: string | undefined) => shelves.link.one(id),
    roomTitle,
    markOf,
    property,
    state,
  }
})

/** What is not in the home yet first, then by maker and label. */
function foundOrder(a: FoundDevice, b: FoundDevice): number {
  return Number(!!a.device) - Number(!!b.device) || text(a.maker + a.label, b.maker + b.label)
}
