import { expect, test } from 'vitest'
import type { Calendar, Schedule } from '@/api/types'
import { comingUp } from './next'

test('what comes next is in the order of time, of what is switched on and not over', () => {
  const schedule = (id: string, next?: string, enabled = true) =>
    ({ id, title: id, enabled, state: { next } }) as Schedule
  const calendar = {
    title: 'Diary',
    next: [
      { title: 'over', begin: '2026-11-01T08:00:00Z' },
      { title: 'class', begin: '2026-11-01T20:00:00Z' },
    ],
  } as Calendar
  const list = comingUp(
    [
      schedule('late', '2026-11-01T23:00:00Z'),
      schedule('soon', '2026-11-01T19:00:00+00:00'),
      schedule('off', '2026-11-01T19:00:00Z', false),
      schedule('never'),
      schedule('tomorrow', '2026-11-02T18:00:00Z'),
    ],
    [calendar],
    Date.parse('2026-11-01T18:00:00Z'),
    Date.parse('2026-11-02T18:00:00Z'),
  )
  expect(list.map((p) => [p.title, p.from])).toEqual([
    ['soon', ''],
    ['class', 'Diary'],
    ['late', ''],
  ])
})
