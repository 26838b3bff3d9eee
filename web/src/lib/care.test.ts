import { describe, expect, it } from 'vitest'
import type { Device } from '@/api/types'
import { attentionFirst, emptying, heardAt, rhythmWords, span } from './care'

const device = (title: string, care: Partial<Device['care']> = {}, states: Partial<Device['states'][number]>[] = []) =>
  ({ id: title, title, states, care: { attention: [], ...care } }) as unknown as Device
const urgent = (urgency: 1 | 2) => ({ attention: [{ kind: 'silent' as const, urgency, text: '', advice: '' }] })

describe('care', () => {
  it('puts what is most urgent first', () => {
    const list = [device('Lamp 10', urgent(1)), device('Eye'), device('Door', urgent(2)), device('Lamp 9', urgent(1))]
    expect(attentionFirst(list).map((d) => d.title)).toEqual(['Door', 'Lamp 9', 'Lamp 10'])
  })
  it('says lengths of time by their greatest unit', () => {
    expect([40, 119, 120, 1800, 4 * 3600, 12 * 86400].map(span)).toEqual([
      '40 s',
      '119 s',
      '2 min',
      '30 min',
      '4 h',
      '12 days',
    ])
  })
  it('says how often a device speaks', () => {
    const r = (kind: 'regular' | 'irregular' | 'unknown') =>
      rhythmWords(device('x', { rhythm: { kind, everySeconds: 1800, silentAfterSeconds: 0, from: 9 } }))
    expect([r('regular'), r('irregular'), r('unknown'), rhythmWords(device('lamp'))]).toEqual([
      'every 30 min',
      'at changes, within 30 min',
      'being learned',
      'when switched',
    ])
  })
  it('counts from now when a battery is empty, and how sure that is', () => {
    const now = Date.parse('2026-11-23T12:00:00Z')
    const projection = {
      emptyAt: '2026-12-03T12:00:00Z',
      soonest: '2026-12-01T12:00:00Z',
      latest: '2031-11-23T12:00:00Z',
      perDay: 2,
      overDays: 3.1,
    }
    expect(emptying(device('x', { projection }), now)).toMatchObject({
      text: 'in 10 days',
      sure: 'between 8 days and over 3 years, from 3 days',
    })
    expect(emptying(device('x'), now)).toBeUndefined()
  })
  it('takes what was heard since the page was loaded', () => {
    const d = device('x', { heardAt: '2026-11-23T10:00:00Z' }, [{ reportedAt: '2026-11-23T11:00:00Z' }, {}])
    expect(heardAt(d)).toBe('2026-11-23T11:00:00Z')
  })
})
