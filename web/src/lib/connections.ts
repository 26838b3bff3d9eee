import type { Connection } from '@/api/types'
import type { Times } from './format'

/** How a connection stands, in words. */
export function standing(c: Connection, times: Times, now: number): string {
  if (c.paused) return 'paused'
  if (!c.since) return 'nothing was heard yet'
  return `${c.up ? 'up' : 'down'} since ${times.since(c.since, now)}`
}

const kinds: Record<Connection['kind'], string> = {
  hubBroker: 'MQTT broker inside the hub',
  broker: 'MQTT broker elsewhere',
  localNetwork: 'Devices that answer a search on the local network',
  webThings: 'Devices that describe themselves, over HTTP',
  transceiver: 'Transceiver for one-way radio, over TCP',
  lumbrookBridge: 'Bridge over HTTP, with a key',
}

/** What kind of way a connection is. */
export const kindWords = (c: Connection): string => kinds[c.kind]
