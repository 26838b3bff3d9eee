// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { api } from '@/api/client'
import type { Message, Update } from '@/api/types'
import { useHome } from './home'

const rule = (runs: number) => ({
  id: 'r',
  revision: 1,
  title: 'R',
  enabled: true,
  do: [],
  usedBy: [],
  state: { phase: 'idle', runs, problems: [], conditions: [], findings: [] },
})
const property = (name: string, value: number) => ({ name, value, text: `${value} %`, on: true, holders: [] })
const lamp = {
  id: 'lamp',
  title: 'Lamp',
  revision: 1,
  description: { properties: [{ name: 'brightness' }, { name: 'white' }], actions: [], events: [] },
}
const message = (number: number, ...changes: Update[]): Message => ({ run: 'run', number, changes })
const anew: Message = { run: 'run', number: 0, anew: true, changes: [] }
const kinds =
  'home room connection device group scene sequence link mirror light curve rule schedule dashboard variable person modes calendar found bridge'
const empty = Object.fromEntries(`${kinds} notice needs pairing day mark`.split(' ').map((k) => [k, {}]))

/** Has a message told, and what it changed shown. */
async function told(home: ReturnType<typeof useHome>, m: Message) {
  await home.told(m)
  await new Promise((shown) => requestAnimationFrame(shown))
}

describe('what this browser knows of the home', () => {
  let reads: string[]
  beforeEach(() => {
    setActivePinia(createPinia())
    reads = []
    vi.spyOn(api, 'GET').mockImplementation(((path: string) => {
      reads.push(path)
      const entries = {
        ...empty,
        rule: { r: rule(2) },
        device: { lamp: { ...lamp, states: [property('brightness', 40)] } },
      }
      const data: Record<string, unknown> = {
        '/api/shown': { run: 'run', number: 10, entries },
        '/api/home': { now: new Date().toISOString() },
        '/api/journal': [],
      }
      return Promise.resolve({ data: data[path] ?? {}, response: new Response() })
    }) as unknown as typeof api.GET)
  })

  it('marks what somebody did in the color of theirs', async () => {
    const home = useHome()
    await told(home, anew)
    const person = { id: 'tove', revision: 1, title: 'Tove', role: 'member', color: 'slate' }
    await told(home, message(11, { of: 'person', id: 'tove', put: person }))
    expect(home.markOf('tove')).toEqual({ '--mark': 'var(--slate)' })
    expect(home.markOf('nobody')).toBeUndefined()
    expect(home.markOf(undefined)).toBeUndefined()
  })

  describe('what was asked for here', () => {
    const brightness = (home: ReturnType<typeof useHome>) => home.state('lamp', 'brightness')!
    const picture = () => new Promise((shown) => requestAnimationFrame(shown))
    async function asking(answer: Promise<unknown>) {
      const home = useHome()
      await told(home, anew)
      const done = home.askingFor('lamp', 'brightness', 80, () => answer)
      await picture()
      expect(brightness(home)).toMatchObject({ certainty: 'pending', target: 80, value: 40 })
      return { home, done }
    }

    it('is shown at once, until the hub says something of it', async () => {
      const { home, done } = await asking(Promise.resolve())
      await done
      await told(home, message(11, { of: 'property', id: 'lamp', name: 'brightness', patch: { value: 80 } }))
      expect(brightness(home)).toMatchObject({ value: 80 })
      expect(brightness(home).certainty).not.toBe('pending')
    })
    it('comes on again with what it was asked for last', async () => {
      const { home } = await asking(Promise.resolve())
      void home.askingFor('lamp', 'brightness', 0, () => new Promise(() => undefined))
      await picture()
      expect(brightness(home)).toMatchObject({ target: 0, lastOn: 80 })
      await told(home, message(11, { of: 'property', id: 'lamp', name: 'brightness', patch: { lastOn: 40 } }))
      expect(brightness(home)).toMatchObject({ value: 40, lastOn: 40 })
    })
    it('is as it was where it is refused', async () => {
      let reject: (reason: Error) => void = () => undefined
      const promise = new Promise((_, refuse) => (reject = refuse))
      const { home, done } = await asking(promise)
      reject(new Error('no'))
      await expect(done).rejects.toThrow('no')
      await picture()
      expect(brightness(home).certainty).not.toBe('pending')
    })
    it('is as it was where the hub says nothing of it, and what was asked for later stays', async () => {
      vi.useFakeTimers({ toFake: ['setTimeout'] })
      const { home, done } = await asking(Promise.resolve())
      await done
      vi.advanceTimersByTime(600)
      await home.askingFor('lamp', 'brightness', 20, () => Promise.resolve())
      vi.advanceTimersByTime(600)
      await picture()
      expect(brightness(home)).toMatchObject({ certainty: 'pending', target: 20 })
      vi.advanceTimersByTime(500)
      await picture()
      expect(brightness(home).certainty).not.toBe('pending')
      vi.useRealTimers()
    })
  })

  it('is read once, then told what changes, and never what was in it already', async () => {
    const home = useHome()
    await told(home, anew)
    expect(home.rule('r')?.state.runs).toBe(2)
    const before = reads.length
    await told(home, message(9, { of: 'rule', id: 'r', patch: { state: { runs: 1 } } }))
    expect(home.rule('r')?.state.runs).toBe(2)
    await told(home, message(11, { of: 'rule', id: 'r', patch: { state: { runs: 3 } } }))
    expect(home.rule('r')?.state).toEqual({ ...rule(3).state })
    await told(home, message(12, { of: 'rule', id: 's', put: { ...rule(0), id: 's', title: 'A' } }))
    expect(home.rules.map((r) => r.id)).toEqual(['s', 'r'])
    await told(home, message(13, { of: 'rule', id: 'r', gone: true }))
    expect(home.rules.map((r) => r.id)).toEqual(['s'])
    expect(reads).toHaveLength(before)
  })

  it('patches the one property of a device that changed, and nothing else', async () => {
    const home = useHome()
    await told(home, anew)
    await told(
      home,
      message(
        11,
        { of: 'property', id: 'lamp', name: 'white', put: property('white', 3) },
        { of: 'device', id: 'lamp', patch: { title: 'Reading lamp' } },
        { of: 'property', id: 'lamp', name: 'brightness', patch: { value: 50, text: '50 %' } },
      ),
    )
    const states = home.device('lamp')!.states
    expect(states.map((s) => [s.name, s.value, s.on])).toEqual([
      ['brightness', 50, true],
      ['white', 3, true],
    ])
    expect(home.device('lamp')!.title).toBe('Reading lamp')
    await told(home, message(12, { of: 'property', id: 'lamp', name: 'brightness', patch: { value: 60 } }))
    expect(home.device('lamp')!.states[1]).toBe(states[1])
    await told(home, message(13, { of: 'device', id: 'lamp', put: { ...lamp, title: 'Anew' } }))
    expect(home.device('lamp')!.states).toHaveLength(2)
    await told(home, message(14, { of: 'property', id: 'lamp', name: 'white', gone: true }))
    expect(home.device('lamp')!.states).toHaveLength(1)
  })

  it('is read anew where something is missing', async () => {
    const home = useHome()
    await told(home, anew)
    await told(home, message(11, { of: 'rule', id: 'r', gone: true }))
    await told(home, { ...anew, number: 40 })
    expect(home.rules).toHaveLength(1)
    expect(reads.filter((r) => r === '/api/shown')).toHaveLength(2)
  })

  it('shows a journal entry once, however often it is told', async () => {
    const home = useHome()
    await told(home, anew)
    const put = { id: 7, at: '2026-11-20T22:00:00Z', kind: 'written', text: 'x', tone: 'hand' }
    await told(home, message(11, { of: 'journal', put }))
    await told(home, message(12, { of: 'journal', put }))
    expect(home.entries).toHaveLength(1)
  })

  it('waits for what was just made until it is told', async () => {
    const home = useHome()
    await told(home, anew)
    let there = false
    const waiting = home.arrived('rule', 'r', 2).then(() => (there = true))
    await nextTick()
    expect(there).toBe(false)
    await told(home, message(11, { of: 'rule', id: 'r', patch: { revision: 2 } }))
    await waiting
    expect(there).toBe(true)
    await home.arrived('rule', 'r', 2)
  })
})
