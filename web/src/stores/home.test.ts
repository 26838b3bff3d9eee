import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { api } from '@/api/client'
import type { Message } from '@/api/types'
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
const told = (runs: number): Message => ({
  kind: 'rule',
  id: 'r',
  rule: { phase: 'idle', runs, problems: [], conditions: [], findings: [] },
})

/** Answers of the hub that come when the test lets them. */
function slowHub() {
  let answer: (body: unknown) => void = () => undefined
  let refuse: (reason: Error) => void = () => undefined
  vi.spyOn(api, 'GET').mockImplementation(
    (() =>
      new Promise((resolve, reject) => {
        answer = (data) => resolve({ data, response: new Response() })
        refuse = reject
      })) as unknown as typeof api.GET,
  )
  return { answer: (body: unknown) => answer(body), refuse: () => refuse(new Error('gone')) }
}

describe('what this browser knows of the home', () => {
  beforeEach(() => setActivePinia(createPinia()))

  it('keeps what was told while an older answer was on its way', async () => {
    const hub = slowHub()
    const home = useHome()
    const reading = home.read('rule')
    home.told(told(1))
    hub.answer([rule(0)]) // made before the rule ran
    await reading
    expect(home.rule('r')?.state.runs).toBe(1)
  })

  it('lets the newest of several words count', async () => {
    const hub = slowHub()
    const home = useHome()
    const reading = home.read('rule')
    home.told(told(1))
    home.told(told(2))
    hub.answer([rule(2)])
    await reading
    expect(home.rule('r')?.state.runs).toBe(2)
    home.told(told(3))
    expect(home.rule('r')?.state.runs).toBe(3)
  })

  it('shows a journal entry once, however often it is told', async () => {
    const home = useHome()
    const entry = { id: 7, at: '2026-11-20T22:00:00Z', kind: 'written', text: 'x', tone: 'hand' as const }
    home.told({ kind: 'journal', entry })
    home.told({ kind: 'journal', entry })
    expect(home.entries).toHaveLength(1)
  })

  it('keeps the old state when the hub refuses to answer', async () => {
    const hub = slowHub()
    const home = useHome()
    const first = home.read('rule')
    hub.answer([rule(4)])
    await first
    const second = home.read('rule')
    hub.refuse()
    await expect(second).rejects.toThrow('cannot be reached')
    expect(home.rule('r')?.state.runs).toBe(4)
  })
})
