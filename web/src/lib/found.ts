import type { FoundDevice } from '@/api/types'

/** In which orders found devices are listed. */
export const foundOrders = [
  { value: 'name', title: 'by name' },
  { value: 'signal', title: 'by signal' },
  { value: 'heard', title: 'by last heard' },
] as const
export type FoundOrder = (typeof foundOrders)[number]['value']

const byName = (a: FoundDevice, b: FoundDevice) => (a.maker + a.label).localeCompare(b.maker + b.label, 'en')

const orders: Record<FoundOrder, (a: FoundDevice, b: FoundDevice) => number> = {
  name: byName,
  // The strongest and the newest first: what is near, or was just touched. What says neither comes last.
  signal: (a, b) => (b.signal ?? -1) - (a.signal ?? -1) || byName(a, b),
  heard: (a, b) => (b.heard ?? '').localeCompare(a.heard ?? '') || byName(a, b),
}

/** Found devices in an order. */
export const sortFound = (devices: FoundDevice[], by: FoundOrder): FoundDevice[] => [...devices].sort(orders[by])

/** What a found device reads now, to be recognized by. */
export const readsNow = (d: FoundDevice): string => d.reads.map((r) => `${r.title} ${r.text}`).join(' · ')

/** All by which a found device is searched. */
export const foundText = (d: FoundDevice): string =>
  [d.label, d.maker, d.model, d.profile, d.hardware, d.roomHint, d.groups, d.gateway, readsNow(d), ...d.offers]
    .filter(Boolean)
    .join(' ')
    .toLowerCase()
