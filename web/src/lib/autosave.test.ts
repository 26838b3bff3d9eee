import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, nextTick, ref } from 'vue'
import { Problem } from '@/api/client'
import { useAutosave } from './autosave'

interface Doc {
  title: string
}

/** A page that edits one document, and a hub that keeps what is saved. */
function page(save?: (d: Doc, key: string) => Promise<unknown>) {
  const key = ref('a')
  const live = ref<Doc>({ title: 'first' })
  const saved: [string, string][] = []
  const keep = async (d: Doc, k: string) => {
    saved.push([k, d.title])
    live.value = d
  }
  let edit!: ReturnType<typeof useAutosave<Doc>>
  const wrapper = mount(
    defineComponent({
      setup() {
        edit = useAutosave<Doc>(
          () => key.value,
          () => live.value,
          save ?? keep,
        )
        return () => null
      },
    }),
  )
  const type = async (title: string) => {
    edit.copy.value = { title }
    await nextTick()
  }
  const rest = async () => {
    await vi.advanceTimersByTimeAsync(600)
    await nextTick()
  }
  return { key, live, saved, edit, wrapper, type, rest }
}

describe('what is edited saves itself', () => {
  beforeEach(() => void vi.useFakeTimers())
  afterEach(() => void vi.useRealTimers())

  it('once it rests, and only the last of it', async () => {
    const p = page()
    await p.type('sec')
    await p.type('second')
    expect(p.edit.saving.value).toBe('saving')
    await p.rest()
    expect(p.saved).toEqual([['a', 'second']])
    expect(p.edit.saving.value).toBe('saved')
  })

  it('when the page is left before it rested', async () => {
    const p = page()
    await p.type('second')
    p.wrapper.unmount()
    expect(p.saved).toEqual([['a', 'second']])
  })

  it('when the browser is closed before it rested', async () => {
    const p = page()
    await p.type('second')
    dispatchEvent(new Event('pagehide'))
    expect(p.saved).toEqual([['a', 'second']])
  })

  it('to the document it belongs to, when another is opened', async () => {
    const p = page()
    await p.type('second')
    p.key.value = 'b'
    await nextTick()
    expect(p.saved).toEqual([['a', 'second']])
  })

  it('with an undo and a redo of every rest', async () => {
    const p = page()
    await p.type('second')
    await p.rest()
    await p.type('third')
    await p.rest()
    p.edit.undo()
    await p.rest()
    expect(p.edit.copy.value?.title).toBe('second')
    p.edit.undo()
    await p.rest()
    expect(p.edit.copy.value?.title).toBe('first')
    p.edit.redo()
    await p.rest()
    expect(p.saved.map(([, title]) => title)).toEqual(['second', 'third', 'second', 'first', 'second'])
  })

  it('and takes over what others save while nothing of ours is on the way', async () => {
    const p = page()
    p.live.value = { title: 'theirs' }
    await nextTick()
    expect(p.edit.copy.value?.title).toBe('theirs')
    await p.type('ours')
    p.live.value = { title: 'theirs again' }
    await nextTick()
    expect(p.edit.copy.value?.title).toBe('ours')
  })

  it('and says when it could not, keeping what was typed', async () => {
    const p = page(() => Promise.reject(new Problem(422, 'A scene needs a name.')))
    await p.type('')
    await p.rest()
    expect(p.edit.saving.value).toBe('failed')
    expect(p.edit.wrong.value).toBe('A scene needs a name.')
    expect(p.edit.copy.value?.title).toBe('')
  })
})
