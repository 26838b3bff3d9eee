import { describe, expect, it } from 'vitest'
import type { FoundDevice } from '@/api/types'
import { foundText, readsNow, sortFound } from './found'

const device = (label: string, more: Partial<FoundDevice> = {}): FoundDevice => ({
  connection: 'gateways',
  hardware: label,
  address: label,
  maker: 'Quillet',
  model: 'QM-2',
  label,
  offers: ['Motion'],
  reads: [],
  ...more,
})
const labels = (list: FoundDevice[]) => list.map((d) => d.label)

describe('found devices', () => {
  const list = [
    device('b', { signal: 40, heard: '2026-11-28T21:00:00Z' }),
    device('c'),
    device('a', { signal: 90, heard: '2026-11-28T20:00:00Z' }),
  ]
  it('are sorted by name, by signal and by when they were heard; what says neither comes last', () => {
    expect(labels(sortFound(list, 'name'))).toEqual(['a', 'b', 'c'])
    expect(labels(sortFound(list, 'signal'))).toEqual(['a', 'b', 'c'])
    expect(labels(sortFound(list, 'heard'))).toEqual(['b', 'a', 'c'])
    expect(labels(list)).toEqual(['b', 'c', 'a'])
  })
  it('are known by what they read, and found by any word of it', () => {
    const d = device('QM-2 Presence Node 31', { reads: [{ title: 'Illuminance', text: '48 lx' }], roomHint: 'Landing' })
    expect(readsNow(d)).toBe('Illuminance 48 lx')
    expect(foundText(d)).toContain('48 lx')
    expect(foundText(d)).toContain('landing')
  })
})
