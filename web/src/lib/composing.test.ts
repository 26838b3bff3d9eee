import { expect, test } from 'vitest'
import {
  appended,
  draftOf,
  emptyReach,
  emptySending,
  headersOf,
  pickedOf,
  reachOf,
  sendingOf,
  setOnlyDraft,
  wordsOf,
} from './composing'

test('the words of a device are written as it writes them', () => {
  expect(wordsOf('ON')).toEqual(['OFF', 'ON'])
  expect(wordsOf('off')).toEqual(['off', 'on'])
  expect(wordsOf('Open')).toEqual(['Closed', 'Open'])
  expect(wordsOf('42')).toBeUndefined()
})

test('a value found in a message is called what stands before it, and asked for as it was', () => {
  const draft = draftOf({
    pointer: '',
    pattern: 'POW (ON|OFF)',
    message: 'POW ON',
    value: 'ON',
    type: 'boolean',
    asked: 'POW?',
  })
  expect(draft).toMatchObject({ title: 'Pow', no: 'OFF', yes: 'ON', ask: 'POW?' })
  expect(pickedOf('line', { ...draft, sets: true, set: { ...emptySending(), body: 'POW {value}' } })).toMatchObject({
    pattern: 'POW (ON|OFF)',
    pointer: undefined,
    words: ['OFF', 'ON'],
    read: { body: 'POW?' },
    set: { body: 'POW {value}' },
  })
  expect(pickedOf('line', { ...draft, kind: 'event' })).toMatchObject({ event: true, read: undefined, set: undefined })
  expect(draftOf({ pointer: '/on', value: 'true', type: 'boolean' }).yes).toBe('')
})

test('a number of its own has its own unit; one with a meaning has the unit of that', () => {
  const draft = draftOf({ pointer: '/p', value: '1013', type: 'number' })
  expect(pickedOf('http', { ...draft, unit: 'hPa', factor: '0,1' })).toMatchObject({ unit: 'hPa', factor: 0.1 })
  expect(pickedOf('http', { ...draft, unit: 'hPa', role: 'temperature' })).toMatchObject({ unit: '°C' })
  expect(pickedOf('http', { ...draft, role: 'volume', from: '0', to: '80' })).toMatchObject({
    unit: '%',
    from: 0,
    to: 80,
  })
  expect(pickedOf('http', { ...draft, type: 'text', choices: 'CD, TV,' }).choices).toEqual(['CD', 'TV'])
  expect(pickedOf('http', { ...setOnlyDraft(), pattern: 'x' })).toMatchObject({ setOnly: true, pattern: undefined })
})

test('how a device is reached is said with nothing that is empty', () => {
  const reach = { ...emptyReach(), address: ' http://a/ ' }
  expect(JSON.parse(JSON.stringify(reachOf(reach)))).toEqual({ address: 'http://a/' })
  expect(reachOf({ ...reach, scheme: 'header', keyName: 'X-Key', key: 'k' })).toMatchObject({
    security: { scheme: 'apikey', in: 'header', name: 'X-Key' },
    key: 'k',
  })
  expect(reachOf({ ...reach, read: { ...emptySending(), method: 'POST', headers: 'A: b\nC' } }).read).toMatchObject({
    method: 'POST',
    headers: [
      { 'htv:fieldName': 'A', 'htv:fieldValue': 'b' },
      { 'htv:fieldName': 'C', 'htv:fieldValue': '' },
    ],
  })
  expect(JSON.parse(JSON.stringify(reachOf({ ...reach, way: 'line', opening: 'HI\n', key: 'k' })))).toEqual({
    address: 'http://a/',
    line: { opening: ['HI'] },
  })
  expect(headersOf('')).toEqual([])
  expect(sendingOf(emptySending()).method).toBeUndefined()
})

test('what went over the wire is kept to a number', () => {
  const many = Array.from({ length: 250 }, (_, i) => ({ text: String(i) }))
  expect(appended([], many)).toHaveLength(200)
  expect(appended([], many).at(-1)?.text).toBe('249')
})
