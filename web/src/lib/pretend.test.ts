import { expect, it } from 'vitest'
import type { RuleDocument } from '@/api/types'
import { lookedAt } from './pretend'

it('finds what a rule looks at, what starts it first', () => {
  const rule = {
    whenever: { all: [{ device: 'a', property: 'motion' }, { expression: 'value("b", "light") < variable("v")' }] },
    provided: { device: 'a', property: 'light' },
    do: [{ kind: 'if', condition: { device: 'c', property: 'contact' }, then: [{ kind: 'set' }] }],
  } as unknown as RuleDocument
  expect(lookedAt(rule).map((l) => `${l.device} ${l.name} ${l.starts}`)).toEqual([
    'a motion true',
    'b light true',
    'own v true',
    'a light false',
    'c contact false',
  ])
})
