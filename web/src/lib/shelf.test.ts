import { describe, expect, it } from 'vitest'
import { mergePatch, Shelf } from './shelf'

describe('a merge patch', () => {
  // The examples of RFC 7396, appendix A.
  const cases: [unknown, unknown, unknown][] = [
    [{ a: 'b' }, { a: 'c' }, { a: 'c' }],
    [{ a: 'b' }, { b: 'c' }, { a: 'b', b: 'c' }],
    [{ a: 'b' }, { a: null }, {}],
    [{ a: 'b', b: 'c' }, { a: null }, { b: 'c' }],
    [{ a: ['b'] }, { a: 'c' }, { a: 'c' }],
    [{ a: 'c' }, { a: ['b'] }, { a: ['b'] }],
    [{ a: { b: 'c' } }, { a: { b: 'd', c: null } }, { a: { b: 'd' } }],
    [{ a: [{ b: 'c' }] }, { a: [1] }, { a: [1] }],
    [
      ['a', 'b'],
      ['c', 'd'],
      ['c', 'd'],
    ],
    [{ a: 'b' }, ['c'], ['c']],
    [{ e: null }, { a: 1 }, { e: null, a: 1 }],
    [[1, 2], { a: 'b', c: null }, { a: 'b' }],
    [{}, { a: { bb: { ccc: null } } }, { a: { bb: {} } }],
  ]
  it.each(cases)('makes of %j by %j what RFC 7396 says', (target, patch, merged) => {
    expect(mergePatch(target, patch)).toEqual(merged)
  })

  it('leaves what it does not touch the same object, and what was there as it was', () => {
    const before = { care: { attention: [] }, states: [1] }
    const after = mergePatch(before, { states: [2] })
    expect(after.care).toBe(before.care)
    expect(before.states).toEqual([1])
  })
})

describe('a shelf', () => {
  const shelf = () => new Shelf<{ id: string; title: string }>((a, b) => a.title.localeCompare(b.title))
  const ids = (s: ReturnType<typeof shelf>) => s.list.value.map((e) => e.id)

  it('shows its entries in order, once what changed is settled', () => {
    const s = shelf()
    s.fill({ a: { id: 'a', title: 'Stair lamp' }, b: { id: 'b', title: 'Hall' } })
    expect(ids(s)).toEqual([])
    s.settle()
    expect(ids(s)).toEqual(['b', 'a'])
    s.put('c', { id: 'c', title: 'Attic' })
    s.change('a', (e) => ({ ...e, title: 'A lamp' }))
    s.drop('b')
    s.settle()
    expect(ids(s)).toEqual(['a', 'c'])
    expect(s.get('a')?.title).toBe('A lamp')
  })

  it('keeps its list where nothing changed', () => {
    const s = shelf()
    s.fill({ a: { id: 'a', title: 'Hall' } })
    s.settle()
    const before = s.list.value
    s.drop('nobody')
    s.change('nobody', (e) => e)
    s.settle()
    expect(s.list.value).toBe(before)
  })
})
