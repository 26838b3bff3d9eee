// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import { useUndo } from './undo'

describe('undo', () => {
  beforeEach(() => {
    sessionStorage.clear()
    vi.useFakeTimers()
  })
  afterEach(() => vi.useRealTimers())

  it('goes back and forth through every state; what is typed in one go is one, and the same again is none', async () => {
    const document = ref<{ a: string; b?: number } | undefined>()
    const { past, future, undo, redo } = useUndo(document, () => 'a')
    const change = async (to: typeof document.value, after = 1000) => {
      vi.advanceTimersByTime(after)
      document.value = to
      await nextTick()
    }
    await change({ a: '', b: 1 })
    expect(past.value).toHaveLength(0)
    await change({ b: 1, a: '' })
    expect(past.value).toHaveLength(0)
    await change({ a: 'x' })
    await change({ a: 'xy' }, 100)
    await change({ a: 'other' })
    expect(past.value).toHaveLength(2)
    undo()
    await nextTick()
    expect(document.value?.a).toBe('xy')
    undo()
    await nextTick()
    expect(document.value).toEqual({ a: '', b: 1 })
    redo()
    redo()
    await nextTick()
    expect(document.value?.a).toBe('other')
    undo()
    await nextTick()
    await change({ a: 'new' })
    expect(future.value).toHaveLength(0)
  })
})
