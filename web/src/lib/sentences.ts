import type { Comparison, Device, Property, Room } from '@/api/types'
import { usedProperties } from './devices'
import type { Choice } from './choice'

/** The words of sentences: what can be chosen where. */

export const comparisonWords: Record<Comparison, string> = {
  is: 'is',
  isNot: 'is not',
  below: 'is below',
  above: 'is above',
  atLeast: 'is at least',
  atMost: 'is at most',
}

export function comparisons(property: Property | undefined): Choice<Comparison>[] {
  const fitting: Comparison[] =
    property?.type === 'number' ? ['below', 'above', 'atLeast', 'atMost', 'is', 'isNot'] : ['is', 'isNot']
  return fitting.map((value) => ({ value, title: comparisonWords[value] }))
}

const SEPARATOR = '\u0000'

/** One choice for a device together with one of its properties or events. */
export const join = (device: string, name: string) => `${device}${SEPARATOR}${name}`
export function split(value: string): [string, string] {
  const [device = '', name = ''] = value.split(SEPARATOR)
  return [device, name]
}

/** A device with one of its properties, without saying the same twice: "Water level", not "Water level water level". */
function together(d: Device, what: string, title: string): string {
  if (d.own) return title
  return d.title.toLowerCase().endsWith(what) ? d.title : `${d.title} ${what}`
}

/** Choices of some names of devices, under the rooms of the devices. */
export function grouped(
  devices: Device[],
  rooms: Room[],
  names: (d: Device) => { name: string; title: string }[],
): Choice[] {
  const order = [...rooms.map((r) => ({ id: r.id, title: r.title })), { id: '', title: 'Without a room' }]
  return order.flatMap((room) =>
    devices
      .filter((d) => (d.room ?? '') === room.id)
      .flatMap((d) =>
        names(d).map((n) => ({
          value: join(d.id, n.name),
          title: together(d, n.title.toLowerCase(), n.title),
          group: room.title,
        })),
      ),
  )
}

export const propertyChoices = (devices: Device[], rooms: Room[], fits: (p: Property) => boolean = () => true) =>
  grouped(devices, rooms, (d) => usedProperties(d).filter(fits))

export const triggerChoices = (devices: Device[], rooms: Room[]) =>
  grouped(devices, rooms, (d) => [
    ...d.description.events.map((e) => ({ name: `event:${e.name}`, title: e.title })),
    ...usedProperties(d),
  ])
