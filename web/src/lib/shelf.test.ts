import { describe, expect, it } from 'vitest'
import { watchEffect } from 'vue'
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

  it('shows one entry to who looks at it alone, when it changes, comes or goes', () => {
    const s = shelf()
    s.fill({ a: { id: 'a', title: 'Hall' }, b: { id: 'b', title: 'Stair' } })
    s.settle()
    const seen: (string | undefined)[] = []
    const stop = watchEffect(() => seen.push(s.one('a')?.title), { flush: 'sync' })
    s.change('b', (e) => ({ ...e, title: 'Stairs' }))
    s.settle()
    expect(seen).toEqual(['Hall'])
    s.change('a', (e) => ({ ...e, title: 'The hall' }))
    s.change('b', (e) => ({ ...e, title: 'The stairs' }))
    expect(seen).toEqual(['Hall'])
    expect(s.one('b')?.title).toBe('Stairs')
    s.settle()
    s.drop('a')
    s.settle()
    s.fill({ a: { id: 'a', title: 'Anew' } })
    s.settle()
    expect(seen).toEqual(['Hall', 'The hall', undefined, 'Anew'])
    expect(s.one(undefined)).toBeUndefined()
    stop()
  })

  it('leaves what keeps its place there, and moves what does not', () => {
    const s = shelf()
    s.fill({ a: { id: 'a', title: 'Hall' }, b: { id: 'b', title: 'Stair' }, c: { id: 'c', title: 'Yard' } })
    s.settle()
    s.change('b', (e) => ({ ...e, note: 'new' }))
    s.change('b', (e) => ({ ...e, note: 'newer' }))
    s.settle()
    expect(s.list.value).toEqual([
      { id: 'a', title: 'Hall' },
      { id: 'b', title: 'Stair', note: 'newer' },
      { id: 'c', title: 'Yard' },
    ])
    s.drop('c')
    s.put('c', { id: 'c', title: 'Attic' })
    s.settle()
    expect(ids(s)).toEqual(['c', 'a', 'b'])
    s.put('d', { id: 'd', title: 'Loft' })
    s.drop('d')
    s.settle()
    expect(ids(s)).toEqual(['c', 'a', 'b'])
  })

  it('shows no more at once than it is asked to, those first that wait longest', () => {
    const s = shelf()
    s.fill(Object.fromEntries(['a', 'b', 'c'].map((id) => [id, { id, title: id }])))
    expect(s.settle(1)).toEqual({ shown: 3, more: false })
    const note = (id: string, text: string) => s.change(id, (e) => ({ ...e, note: text }))
    const notes = () => s.list.value.map((e) => (e as { note?: string }).note)
    note('c', 'first')
    note('a', 'second')
    expect(s.settle(1)).toEqual({ shown: 1, more: true })
    expect(notes()).toEqual([undefined, undefined, 'first'])
    note('c', 'third')
    note('a', 'last')
    expect(s.settle(1)).toEqual({ shown: 1, more: true })
    expect(notes()).toEqual(['last', undefined, 'first'])
    // What moves is shown with all else.
    s.change('b', (e) => ({ ...e, title: 'z' }))
    expect(s.settle(2).more).toBe(false)
    expect(ids(s)).toEqual(['a', 'c', 'b'])
    expect(notes()).toEqual(['last', 'third', undefined])
    expect(s.settle(1)).toEqual({ shown: 0, more: false })
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
