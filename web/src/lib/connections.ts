import type { Connection } from '@/api/types'
import type { Times } from './format'

/** How a connection stands, in words. */
export function standing(c: Connection, times: Times, now: number): string {
  if (c.paused) return 'paused'
  if (!c.since) return 'nothing was heard yet'
  return `${c.up ? 'up' : 'down'} since ${times.since(c.since, now)}`
}
