import type { Hub } from './hub'

/** What the tests read of a device. */
export interface Device {
  silent?: boolean
  room?: string
  id: string
  title: string
  own?: boolean
  states: {
    name: string
    value: unknown
    text: string
    target: unknown
    certainty: string
    difference?: unknown
  }[]
}

export const named = async (hub: Hub, title: string): Promise<Device> =>
  (await hub.get<Device[]>('/api/devices')).find((d) => d.title === title)!

/** What a property of a device is at, by the hub. */
export const value = async (hub: Hub, title: string, name: string): Promise<unknown> =>
  (await named(hub, title)).states.find((s) => s.name === name)?.value

/** Makes a definition, and returns its id. */
export const make = async (hub: Hub, path: string, body: unknown): Promise<string> => {
  const response = await hub.send('POST', path, body)
  if (!response.ok) throw new Error(await response.text())
  return ((await response.json()) as { id: string }).id
}

/** Lets no room follow a day curve, for what is told of lamps without one. */
export async function withoutCurves(hub: Hub): Promise<void> {
  type Of = { id: string; curve?: string } & Record<
    'title' | 'note' | 'rooms' | 'lamps' | 'without' | 'circuits' | 'scenes',
    unknown
  >
  for (const { id, curve, title, note, rooms, lamps, without, circuits, scenes } of await hub.get<Of[]>(
    '/api/lights',
  )) {
    if (!curve) continue
    const to = { title, note, rooms, lamps, without, circuits, scenes }
    const response = await hub.send('PATCH', `/api/lights/${id}`, { from: { ...to, curve }, to })
    if (!response.ok) throw new Error(await response.text())
  }
}

/** An evening with nobody in the house, so that nothing happens but what a test does. */
export async function quietEvening(hub: Hub, clock = '20:00'): Promise<void> {
  await hub.bench({ what: 'live', on: false })
  for (const person of ['Nell', 'Tove', 'Ivo', 'Runa']) await hub.bench({ what: 'walk', room: '', person })
  await hub.bench({ what: 'jump', clock })
  await hub.send('PUT', '/api/devices/own/properties/mode', { value: 'mode-in' })
}
