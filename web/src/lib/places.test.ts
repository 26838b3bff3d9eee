import { expect, test } from 'vitest'
import { partAt, placeAt, places } from './places'

test('an address belongs to the part with the longest address of its own', () => {
  expect(partAt('/household')?.title).toBe('Modes')
  expect(partAt('/household/groups')?.title).toBe('Groups and variables')
  expect(partAt('/devices/device-3')?.title).toBe('All')
  expect(placeAt('/found/describe')?.title).toBe('Devices')
  expect(placeAt('/schedules/schedule-dusk')?.title).toBe('Rules')
  expect(placeAt('/foundling')).toBeUndefined()
  expect(placeAt('/nowhere')).toBeUndefined()
})

test('each part has an address of its own', () => {
  const all = places.flatMap((p) => p.parts.map((part) => part.to))
  expect(new Set(all).size).toBe(all.length)
})
