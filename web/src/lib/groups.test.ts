import { describe, expect, it } from 'vitest'
import type { Device, Group } from '@/api/types'
import { sharedRoles } from './groups'

const device = (id: string, ...roles: string[]) =>
  ({
    id,
    states: [],
    description: { properties: roles.map((role) => ({ name: role, title: role, role, type: 'number' })) },
  }) as unknown as Device
const group = (...devices: string[]) => ({ id: 'g', devices }) as unknown as Group

describe('groups', () => {
  it('have the roles of their members, each once', () => {
    const roles = sharedRoles(group('a', 'b', 'gone'), [device('a', 'power'), device('b', 'power', 'energy')])
    expect(roles.map((r) => r.role)).toEqual(['power', 'energy'])
  })
  it('switch what dims on and off as well', () => {
    const roles = sharedRoles(group('a'), [device('a', 'brightness')])
    expect(roles.map((r) => [r.role, r.property.type])).toEqual([
      ['power', 'boolean'],
      ['brightness', 'number'],
    ])
  })
  it('have none without members', () => {
    expect(sharedRoles(undefined, [])).toEqual([])
  })
})
