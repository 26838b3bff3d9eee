import { describe, expect, it } from 'vitest'
import type { Device, Property } from '@/api/types'
import { faceOf, playingOf } from './faces'

const property = (name: string, type: Property['type'], role = '', writable = false) =>
  ({ name, type, role, writable }) as Property
const device = (properties: Property[], light = '') => ({ light, description: { properties } }) as unknown as Device

describe('faces', () => {
  it('are chosen by what a property means', () => {
    const brightness = property('brightness', 'number', 'brightness', true)
    const lamp = device([brightness], 'brightness')
    expect(faceOf(lamp, brightness)).toBe('lamp')
    const socket = device([property('power', 'boolean', 'power', true)])
    expect(faceOf(socket, socket.description.properties[0]!)).toBeUndefined()
    for (const [role, face] of [
      ['contact', 'opening'],
      ['lock', 'lock'],
      ['position', 'shutter'],
      ['setpoint', 'warmth'],
    ] as const)
      expect(faceOf(socket, property('x', role === 'contact' || role === 'lock' ? 'boolean' : 'number', role))).toBe(
        face,
      )
    expect(faceOf(socket, property('x', 'number', 'speed', true))).toBe('level')
    expect(faceOf(socket, property('x', 'number', 'temperature'))).toBe('reading')
    expect(faceOf(socket, property('x', 'text'))).toBeUndefined()
  })

  it('are that of a player only where it says what it plays', () => {
    const power = property('playing', 'boolean', 'power', true)
    const player = device([power, property('track', 'text', 'track')])
    expect(playingOf(player)).toBe(power)
    expect(faceOf(player, power)).toBe('player')
    expect(playingOf(device([power]))).toBeUndefined()
  })
})
