import { expect, test } from 'vitest'
import { rolesFor, suggestedTitle, titleOf } from './roles'

test('a pointer becomes a title that people read', () => {
  expect(titleOf('/env/roomTemp')).toBe('Room temp')
  expect(titleOf('/a/relay_1')).toBe('Relay 1')
  expect(titleOf('')).toBe('Value')
})

test('what a field probably means names it; what nobody knows keeps its own name', () => {
  const field = { pointer: '/env/t', value: '5', type: 'number' as const }
  expect(suggestedTitle({ ...field, role: 'temperature' })).toBe('Temperature')
  expect(suggestedTitle({ ...field, role: 'unheardOf' })).toBe('T')
  expect(suggestedTitle({ ...field, pointer: '/on', type: 'boolean', role: 'temperature' })).toBe('On')
})

test('every role that can be chosen fits the type of the value', () => {
  expect(rolesFor('number').map((r) => r.value)).toContain('temperature')
  expect(rolesFor('boolean').map((r) => r.value)).not.toContain('temperature')
  expect(rolesFor('text').map((r) => r.value)).not.toContain('power')
})
