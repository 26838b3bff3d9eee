import { describe, expect, it } from 'vitest'
import type { Room } from '@/api/types'
import { arrangement, floorsOf, moveRoom } from './floors'

const room = (id: string, floor?: string, order = 0): Room => ({ id, title: id, floor, order, revision: 1 })
const house = [room('hall', 'ground'), room('galley', 'ground'), room('landing', 'upper'), room('yard')]
const order = (floors: ReturnType<typeof floorsOf>) =>
  floors.map((f) => `${f.title}: ${f.rooms.map((r) => r.id).join(' ')}`)

describe('floors', () => {
  it('stand where their first room does', () => {
    expect(order(floorsOf(house))).toEqual(['ground: hall galley', 'upper: landing', ': yard'])
    expect(order(floorsOf([house[2]!, ...house]))[0]).toBe('upper: landing landing')
  })
  it('keep their rooms when one moves within', () => {
    expect(order(moveRoom(floorsOf(house), 'galley', -1))[0]).toBe('ground: galley hall')
    expect(order(moveRoom(floorsOf(house), 'hall', 1))[0]).toBe('ground: galley hall')
  })
  it('give a room to the next floor at their edge', () => {
    expect(order(moveRoom(floorsOf(house), 'galley', 1))).toEqual(['ground: hall', 'upper: galley landing', ': yard'])
    expect(order(moveRoom(floorsOf(house), 'yard', -1))).toEqual(['ground: hall galley', 'upper: landing yard', ': '])
  })
  it('end at the first and the last room', () => {
    expect(order(moveRoom(floorsOf(house), 'hall', -1))).toEqual(order(floorsOf(house)))
    expect(order(moveRoom(floorsOf(house), 'yard', 1))).toEqual(order(floorsOf(house)))
    expect(moveRoom(floorsOf(house), 'nowhere', 1)).toEqual(floorsOf(house))
  })
  it('are saved as rooms in order', () => {
    expect(arrangement(floorsOf(house))).toEqual([
      { id: 'hall', floor: 'ground' },
      { id: 'galley', floor: 'ground' },
      { id: 'landing', floor: 'upper' },
      { id: 'yard', floor: undefined },
    ])
  })
})
