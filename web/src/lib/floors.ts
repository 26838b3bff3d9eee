import type { Room } from '@/api/types'

/** A floor with its rooms, in the owner's order. */
export interface Floor {
  title: string
  rooms: Room[]
}

/** Puts rooms, which come in order, onto their floors; a floor stands where its first room does. */
export function floorsOf(rooms: Room[]): Floor[] {
  const floors = new Map<string, Floor>()
  for (const room of rooms) {
    const title = room.floor ?? ''
    const floor = floors.get(title)
    if (floor) floor.rooms.push(room)
    else floors.set(title, { title, rooms: [room] })
  }
  return [...floors.values()]
}

/** The order and floors of all rooms, as it is saved. */
export function arrangement(floors: Floor[]): { id: string; floor?: string }[] {
  return floors.flatMap((f) => f.rooms.map((r) => ({ id: r.id, floor: f.title || undefined })))
}

/** Moves a room one place up or down, at the edge of its floor onto the next one. */
export function moveRoom(floors: Floor[], id: string, by: -1 | 1): Floor[] {
  const next = floors.map((f) => ({ ...f, rooms: [...f.rooms] }))
  const at = next.findIndex((f) => f.rooms.some((r) => r.id === id))
  const floor = next[at]
  if (!floor) return floors
  const i = floor.rooms.findIndex((r) => r.id === id)
  const [room] = floor.rooms.splice(i, 1)
  const to = i + by
  const other = next[at + by]
  if (to >= 0 && to <= floor.rooms.length) floor.rooms.splice(to, 0, room!)
  else if (other) other.rooms.splice(by < 0 ? other.rooms.length : 0, 0, room!)
  else floor.rooms.splice(i, 0, room!)
  return next
}
