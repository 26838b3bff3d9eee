import { describe, expect, it } from 'vitest'
import type { Device, Group, Room } from '@/api/types'
import { cameTo, deeds, idsIn, offers, readable, type Names } from './expressions'

const property = (name: string, title: string, type = 'number', role = name) => ({ name, title, type, role })
const names = {
  everything: [
    {
      id: 'device-a',
      title: 'Landing sensor',
      room: 'room-l',
      description: {
        properties: [
          property('light', 'Light'),
          { ...property('motion', 'Motion', 'boolean'), words: ['clear', 'moving'] },
        ],
        events: [],
      },
      states: [],
    },
    {
      id: 'own',
      own: true,
      title: 'The house',
      description: { properties: [property('variable-v', 'Wanted warmth')], events: [] },
      states: [],
    },
  ] as unknown as Device[],
  groups: [{ id: 'group-g', title: 'Night route', devices: ['device-a'] }] as unknown as Group[],
  rooms: [{ id: 'room-l', title: 'Landing' }] as unknown as Room[],
  modes: { revision: 0, modes: [{ id: 'mode-in', title: 'In' }], usedBy: [] } as unknown as Names['modes'],
}

describe('expressions', () => {
  it('are read with names', () => {
    expect(readable('value("device-a", "light") < 5 && mode == "mode-in"', names)).toBe(
      'Landing sensor light < 5 && mode == In',
    )
    expect(readable('mean(room("room-l","light")) > variable("variable-v")', names)).toBe(
      'mean(light in Landing) > Wanted warmth',
    )
    expect(readable('"Open: " + which("group-g", "motion", true)', names)).toBe(
      '"Open: " + which of Night route are moving',
    )
    expect(readable('value("gone", "light") == "dim"', names)).toBe('value("gone", "light") == "dim"')
  })
  it('show ids by their names, at their places', () => {
    const text = 'known("device-a", "light")'
    expect(idsIn(text, names)).toEqual([{ from: 6, to: 16, title: 'Landing sensor' }])
  })
  it('offer what is there by name', () => {
    const all = offers([{ name: 'hour', pattern: 'hour', help: 'Hours.' }], names)
    expect(all.find((o) => o.label === 'Landing sensor light')?.apply).toBe('value("device-a", "light")')
    expect(all.find((o) => o.label === 'Night route light of each')?.apply).toBe('group("group-g", "light")')
    expect(all.find((o) => o.label === 'which of Night route are clear')?.apply).toBe(
      'which("group-g", "motion", false)',
    )
    expect(all.find((o) => o.label === 'Wanted warmth')?.apply).toBe('variable("variable-v")')
    expect(all.find((o) => o.label === 'mode is In')?.apply).toBe('mode == "mode-in"')
    expect(all.find((o) => o.label === 'hour')?.info).toBe('Hours.')
  })
  it('offer to scripts what they can want done', () => {
    const lamp = {
      id: 'device-l',
      title: 'Stair lamp',
      description: {
        properties: [{ ...property('brightness', 'Brightness'), writable: true }, property('power', 'Power used')],
        actions: [{ name: 'blink', title: 'Blink' }],
      },
      states: [],
    } as unknown as Device
    const all = deeds({ ...names, everything: [lamp], rules: [{ id: 'rule-r', title: 'Stairs' }] as Names['rules'] })
    expect(all.map((o) => o.apply)).toEqual([
      'set("device-l", "brightness", ',
      'ask("device-l", "blink")',
      'members("group-g")',
      'inside("room-l")',
      'start("rule-r")',
      'stop("rule-r")',
    ])
  })
  it('come to something in words', () => {
    expect([cameTo(true), cameTo(1.23456), cameTo('a'), cameTo(undefined)]).toEqual([
      'yes',
      '1.235',
      '“a”',
      'not known now',
    ])
  })
})
