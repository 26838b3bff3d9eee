import { createEventHook, useEventListener, useIntervalFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { Change } from '@/api/types'
import { canonical } from '@/lib/canonical'
import type { Documents, Editable } from '@/lib/documents'
import { useNotices } from './notices'

type Side = 'mine' | 'theirs'
interface Body<T> {
  from: T
  to: T
  prefer?: Side
}
type Send<T> = (id: string, body: Body<T>) => Promise<{ document: T; revision: number }>

/** What a browser sends on after its page is closed may be 64 KiB in all; anything larger it would refuse to send. */
const KEPT_ALIVE = 60_000
const alive = (body: unknown) => ({ keepalive: JSON.stringify(body).length < KEPT_ALIVE })
const call = (id: string, body: unknown) => ({ params: { path: { id } }, ...alive(body) })
/** How an edit of each kind is sent. */
const sends: { [K in Editable]: Send<Documents[K]> } = {
  calendar: (id, body) => ask(api.PATCH('/api/calendars/{id}', { ...call(id, body), body })),
  dashboard: (id, body) => ask(api.PATCH('/api/dashboards/{id}', { ...call(id, body), body })),
  device: (id, body) => ask(api.PATCH('/api/devices/{id}', { ...call(id, body), body })),
  group: (id, body) => ask(api.PATCH('/api/groups/{id}', { ...call(id, body), body })),
  home: (_, body) => ask(api.PATCH('/api/home', { ...alive(body), body })),
  modes: (_, body) => ask(api.PATCH('/api/modes', { ...alive(body), body })),
  room: (id, body) => ask(api.PATCH('/api/rooms/{id}', { ...call(id, body), body })),
  rule: (id, body) => ask(api.PATCH('/api/rules/{id}', { ...call(id, body), body })),
  link: (id, body) => ask(api.PATCH('/api/links/{id}', { ...call(id, body), body })),
  mirror: (id, body) => ask(api.PATCH('/api/mirrors/{id}', { ...call(id, body), body })),
  curve: (id, body) => ask(api.PATCH('/api/curves/{id}', { ...call(id, body), body })),
  light: (id, body) => ask(api.PATCH('/api/lights/{id}', { ...call(id, body), body })),
  scene: (id, body) => ask(api.PATCH('/api/scenes/{id}', { ...call(id, body), body })),
  schedule: (id, body) => ask(api.PATCH('/api/schedules/{id}', { ...call(id, body), body })),
  sequence: (id, body) => ask(api.PATCH('/api/sequences/{id}', { ...call(id, body), body })),
  person: (id, body) => ask(api.PATCH('/api/people/{id}', { ...call(id, body), body })),
  variable: (id, body) => ask(api.PATCH('/api/variables/{id}', { ...call(id, body), body })),
}

/** An edit that the hub has not taken yet: from what the document was to what it is to be. */
interface Kept {
  kind: Editable
  id: string
  title: string
  from: unknown
  to: unknown
  /** When its tab was last there. */
  at: number
}
export interface Unsent extends Kept {
  state: 'resting' | 'saving' | 'failed' | 'asked'
  wrong: string
  changes: Change[]
  /** Whether it is tried again by itself. */
  again: boolean
  /** What is wrong with each field. */
  places: Problem['places']
}

/** How long typing rests before it is sent. */
const REST = 500
/** How often what could not be sent is tried again, in ms. */
const AGAIN = 3000
/** After this time without a sign of its tab, an edit is taken over by another. */
const ORPHANED = 30_000
const PREFIX = 'amvek.edit.'

/** The name of this tab, which stays over a reload. */
function tabName(): string {
  const name = sessionStorage.getItem('amvek.tab') ?? Math.random().toString(36).slice(2, 10)
  sessionStorage.setItem('amvek.tab', name)
  return name
}

/**
 * Edits on their way to the hub. Each is kept in this browser until the hub has taken it: over a page that is left, a
 * reload, and a hub that cannot be reached.
 */
export const useEdits = defineStore('edits', () => {
  const notices = useNotices()
  /** By kind and id; an edit that stands for itself beside another of the same definition has a number after it. */
  const unsent = ref<Record<string, Unsent>>({})
  const shown = ref(new Set<string>())
  const saved = createEventHook<{ key: string; sent: unknown; document: unknown; revision: number }>()
  const timers = new Map<string, ReturnType<typeof setTimeout>>()
  const flying = new Map<string, Promise<unknown>>()
  const tab = tabName()
  const nameOf = (key: string) => `${PREFIX}${tab}.${key}`

  function keep(key: string) {
    const { kind, id, title, from, to } = unsent.value[key]!
    try {
      localStorage.setItem(nameOf(key), JSON.stringify({ kind, id, title, from, to, at: Date.now() } satisfies Kept))
    } catch {
      // too much for this browser: then it is only in this page
    }
  }
  function drop(key: string) {
    clearTimeout(timers.get(key))
    delete unsent.value[key]
    localStorage.removeItem(nameOf(key))
  }
  function later(key: string, delay: number) {
    clearTimeout(timers.get(key))
    timers.set(
      key,
      setTimeout(() => void send(key), delay),
    )
  }

  function put(key: string, kind: Editable, id: string, title: string, from: unknown, to: unknown) {
    const there = unsent.value[key]
    const plain = JSON.parse(JSON.stringify({ from: there?.from ?? from, to })) as { from: unknown; to: unknown }
    const state = there?.state === 'asked' || there?.state === 'saving' ? there.state : 'resting'
    const { wrong, changes } = there ?? { wrong: '', changes: [] }
    unsent.value[key] = { kind, id, title, ...plain, at: Date.now(), state, wrong, changes, again: false, places: [] }
    keep(key)
  }

  /** Takes an edit, which is sent once it rests. */
  function edit<K extends Editable>(kind: K, id: string, title: string, from: Documents[K], to: Documents[K]) {
    const key = `${kind}/${id}`
    put(key, kind, id, title, from, to)
    if (unsent.value[key]!.state === 'resting') later(key, REST)
  }

  /** Sends an edit that stands for itself, after what rests of the same definition; returns by what name it may wait. */
  async function alone<K extends Editable>(kind: K, id: string, from: Documents[K], to: Documents[K]) {
    await send(`${kind}/${id}`)
    let n = 1
    while (`${kind}/${id}~${n}` in unsent.value) n++
    const key = `${kind}/${id}~${n}`
    put(key, kind, id, 'title' in to ? (to.title as string) : '', from, to)
    return { key, document: (await send(key)) as Documents[K] | undefined }
  }

  /** Sends an edit that stands for itself; the document that comes of it, unless it has to wait or is asked. */
  const direct = async <K extends Editable>(kind: K, id: string, from: Documents[K], to: Documents[K]) =>
    (await alone(kind, id, from, to)).document

  /** Sends what rests, without waiting any longer. */
  function hurry() {
    for (const [key, e] of Object.entries(unsent.value)) if (e.state === 'resting') void send(key)
  }

  async function send(key: string, prefer?: Side): Promise<unknown> {
    if (flying.has(key)) await flying.get(key)
    if (flying.has(key)) return flying.get(key) // who waited longer sends it already
    const e = unsent.value[key]
    if (!e || (e.state === 'asked' && !prefer)) return undefined
    const done = transmit(key, e, prefer).finally(() => flying.delete(key))
    flying.set(key, done)
    return done
  }

  async function transmit(key: string, e: Unsent, prefer?: Side): Promise<unknown> {
    clearTimeout(timers.get(key))
    const sent = e.to
    if (!e.again) e.state = 'saving' // what is tried again stays told as not saved
    try {
      const answer = await (sends[e.kind] as Send<unknown>)(e.id, { from: e.from, to: sent, prefer })
      const now = unsent.value[key]
      if (!now || canonical(now.to) === canonical(sent)) drop(key)
      else {
        Object.assign(now, { from: sent, state: 'resting', wrong: '', changes: [] })
        keep(key)
        later(key, REST)
      }
      await saved.trigger({ key, sent, ...answer })
      return answer.document
    } catch (error) {
      failed(key, error)
      return undefined
    }
  }

  function failed(key: string, error: unknown) {
    const e = unsent.value[key]
    if (!e) return
    if (!(error instanceof Problem)) throw error
    if (error.status === 404) {
      drop(key)
      notices.fault(new Problem(404, `${e.title || 'It'} was removed meanwhile; your last change was not saved.`))
    } else if (error.status === 409 && error.changes) {
      Object.assign(e, { state: 'asked', wrong: error.message, changes: error.changes })
    } else {
      const again = error.status === 0 || error.status >= 500
      Object.assign(e, { state: 'failed', wrong: error.message, places: error.places, again })
      if (again) later(key, AGAIN)
    }
  }

  /**
   * Sends the edit of a form at once. A refusal is thrown and nothing is kept; what cannot be sent now, or is asked, is
   * shown until it is settled.
   */
  async function now<K extends Editable>(kind: K, id: string, from: Documents[K], to: Documents[K]) {
    const { key, document } = await alone(kind, id, from, to)
    const e = unsent.value[key]
    if (document || e?.state !== 'failed' || e.again) return document
    drop(key)
    throw new Problem(422, e.wrong, e.places)
  }

  /** Says that a page shows how an edit of a definition stands, until it is called again with false. */
  function show(key: string, is: boolean) {
    if (is) shown.value.add(key)
    else shown.value.delete(key)
  }
  /** What could not be saved and no page shows. */
  const open = computed(() =>
    Object.entries(unsent.value)
      .filter(([key, e]) => ['failed', 'asked'].includes(e.state) && !shown.value.has(key))
      .map(([key, e]) => ({ ...e, key })),
  )

  /** Answers which of two changes of the same counts; the document that comes of it. */
  const settle = (key: string, side: Side) => send(key, side)

  /** Gives up what was refused: the document is as the hub has it. */
  const giveUp = (key: string) => drop(key)

  /** Takes up what this tab had before a reload, and what tabs left behind that are gone. */
  function adopt() {
    for (let i = localStorage.length - 1; i >= 0; i--) {
      const name = localStorage.key(i) ?? ''
      if (!name.startsWith(PREFIX)) continue
      const mine = name.startsWith(`${PREFIX}${tab}.`)
      const kept = read(name)
      if (!kept || (!mine && Date.now() - kept.at < ORPHANED)) continue
      const key = name.slice(name.indexOf('.', PREFIX.length) + 1)
      if (unsent.value[key]) continue
      if (!mine) localStorage.removeItem(name)
      put(key, kept.kind, kept.id, kept.title, kept.from, kept.to)
      void send(key)
    }
  }
  function read(name: string): Kept | undefined {
    try {
      const kept = JSON.parse(localStorage.getItem(name) ?? '') as Kept
      if (kept.kind in sends) return kept
    } catch {
      // damaged: nothing can be done with it
    }
    localStorage.removeItem(name)
    return undefined
  }

  useIntervalFn(() => {
    for (const key of Object.keys(unsent.value)) keep(key)
    adopt()
  }, ORPHANED / 2)
  useEventListener(window, 'pagehide', hurry)
  adopt()

  return { unsent, open, edit, direct, now, hurry, send, settle, giveUp, show, onSaved: saved.on }
})
