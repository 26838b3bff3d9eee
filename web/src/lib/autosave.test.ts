// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import type { Middleware } from 'openapi-fetch'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, nextTick, ref, shallowRef } from 'vue'
import { api } from '@/api/client'
import type { SceneDocument } from '@/api/types'
import { useEdits } from '@/stores/edits'
import { useNotices } from '@/stores/notices'
import { useAutosave } from './autosave'

const scene = (title: string, note = ''): SceneDocument => ({ title, note, fadeSeconds: 0, targets: [] })
type Part = 'title' | 'note'

/** A hub that joins edits of a scene's name and note, and is there or not. */
class Hub {
  there = true
  refuses = ''
  docs: Record<string, SceneDocument> = { a: scene('first'), b: scene('other') }
  revision = 1
  asked: { id: string; from: SceneDocument; to: SceneDocument; prefer?: string }[] = []
  /** What happens between an edit and its answer. */
  meanwhile: () => void = () => undefined

  fetch = async (request: Request): Promise<Response> => {
    const body = (await request.json()) as { from: SceneDocument; to: SceneDocument; prefer?: string }
    const id = request.url.split('/').at(-1)!
    if (!this.there) throw new TypeError('no way')
    this.asked.push({ id, ...body })
    if (this.refuses) return this.answer(422, { detail: this.refuses })
    const now = this.docs[id]
    if (!now) return this.answer(404, { detail: 'There is no such scene.' })
    const joined = { ...now }
    for (const part of ['title', 'note'] satisfies Part[]) {
      if (body.to[part] === body.from[part]) continue
      const both = now[part] !== body.from[part] && now[part] !== body.to[part]
      if (both && !body.prefer) {
        const changes = [{ mark: 'gone', depth: 0, text: now[part] }]
        return this.answer(409, { detail: 'The same was changed.', changes })
      }
      if (!both || body.prefer === 'mine') joined[part] = body.to[part]!
    }
    this.docs[id] = joined
    const revision = ++this.revision
    this.meanwhile()
    return this.answer(200, { id, revision, document: joined })
  }
  private answer(status: number, body: unknown) {
    return new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })
  }
  edit(id: string, part: Partial<SceneDocument>) {
    this.docs[id] = { ...this.docs[id]!, ...part }
    this.revision++
  }
}

/** A page that edits one scene. */
function page(hub: Hub) {
  const id = ref('a')
  const live = shallowRef(hub.docs.a!)
  const revision = ref(hub.revision)
  let edit!: ReturnType<typeof useAutosave<'scene'>>
  const wrapper = mount(
    defineComponent({
      setup() {
        edit = useAutosave('scene', { id: () => id.value, live: () => live.value, revision: () => revision.value })
        return () => null
      },
    }),
  )
  const told = async () => {
    revision.value = hub.revision
    live.value = hub.docs[id.value]!
    await nextTick()
  }
  const type = async (part: Partial<SceneDocument>) => {
    edit.copy.value = { ...edit.copy.value!, ...part }
    await nextTick()
  }
  return { id, edit, wrapper, type, told }
}
const rest = async (ms = 600) => {
  await vi.advanceTimersByTimeAsync(ms)
  await nextTick()
}

describe('what is edited saves itself', () => {
  let hub: Hub
  let answers: Middleware
  beforeEach(() => {
    vi.useFakeTimers()
    localStorage.clear()
    sessionStorage.clear()
    setActivePinia(createPinia())
    hub = new Hub()
    answers = { onRequest: ({ request }) => hub.fetch(request) }
    api.use(answers)
  })
  afterEach(() => {
    vi.useRealTimers()
    api.eject(answers)
  })
  const kept = () => Object.keys(localStorage).filter((k) => k.startsWith('amvek.edit.'))

  it('once it rests, and only the last of it', async () => {
    const p = page(hub)
    await p.type({ title: 'sec' })
    await p.type({ title: 'second' })
    expect(p.edit.saving.value).toBe('saving')
    expect(kept()).toHaveLength(1)
    await rest()
    expect(hub.asked.map((e) => [e.from.title, e.to.title])).toEqual([['first', 'second']])
    expect(p.edit.saving.value).toBe('saved')
    expect(kept()).toHaveLength(0)
  })

  it('when the page is left before it rested', async () => {
    const p = page(hub)
    await p.type({ title: 'second' })
    p.wrapper.unmount()
    await rest(0)
    expect(hub.docs.a!.title).toBe('second')
  })

  it('when the browser is closed before it rested', async () => {
    const p = page(hub)
    await p.type({ title: 'second' })
    dispatchEvent(new Event('pagehide'))
    await rest(0)
    expect(hub.docs.a!.title).toBe('second')
  })

  it('to the document it belongs to, when another is opened', async () => {
    const p = page(hub)
    await p.type({ title: 'second' })
    p.id.value = 'b'
    await p.told()
    await rest()
    expect(hub.docs.a!.title).toBe('second')
    expect(p.edit.copy.value!.title).toBe('other')
  })

  it('joined with what another window changed, also while it was typed on', async () => {
    const p = page(hub)
    await p.type({ title: 'second' })
    hub.edit('a', { note: 'theirs' })
    await p.told()
    expect(p.edit.copy.value!.note).toBe('')
    hub.meanwhile = () => (p.edit.copy.value = { ...p.edit.copy.value!, title: 'second and more' })
    await rest()
    hub.meanwhile = () => undefined
    await rest()
    expect(hub.docs.a).toEqual(scene('second and more', 'theirs'))
    expect(p.edit.copy.value).toEqual(scene('second and more', 'theirs'))
    expect(p.edit.saving.value).toBe('saved')
  })

  it('and asks where another window changed the same', async () => {
    const p = page(hub)
    await p.type({ title: 'mine' })
    hub.edit('a', { title: 'theirs' })
    await rest()
    expect(p.edit.saving.value).toBe('asked')
    expect(p.edit.clash.value).toEqual([{ mark: 'gone', depth: 0, text: 'theirs' }])
    await p.type({ note: 'more' })
    await rest(10_000)
    expect(hub.docs.a!.title).toBe('theirs')
    await p.edit.takeTheirs()
    expect(p.edit.copy.value).toEqual(scene('theirs', 'more'))
    expect(hub.docs.a).toEqual(scene('theirs', 'more'))

    await p.type({ title: 'mine again' })
    hub.edit('a', { title: 'theirs again' })
    await rest()
    await p.edit.keepMine()
    expect(hub.docs.a!.title).toBe('mine again')
    expect(p.edit.saving.value).toBe('saved')
  })

  it('and takes over what others save while nothing of ours is on the way, and nothing older', async () => {
    const p = page(hub)
    hub.edit('a', { title: 'theirs' })
    await p.told()
    expect(p.edit.copy.value!.title).toBe('theirs')
    hub.meanwhile = () => {
      hub.edit('a', { note: 'newer' })
      void p.told() // before the answer, which is of the revision before
    }
    await p.type({ title: 'ours' })
    await rest()
    expect(p.edit.copy.value).toEqual(scene('ours', 'newer'))
  })

  it('and says when it was refused, keeping what was typed over a reload', async () => {
    hub.refuses = 'A scene needs a name.'
    const p = page(hub)
    await p.type({ title: '' })
    await rest()
    expect(p.edit.saving.value).toBe('failed')
    expect(p.edit.wrong.value).toBe('A scene needs a name.')
    p.wrapper.unmount()
    setActivePinia(createPinia())
    const again = page(hub)
    await rest()
    expect(again.edit.copy.value!.title).toBe('')
    expect(again.edit.wrong.value).toBe('A scene needs a name.')
    hub.refuses = ''
    await again.type({ title: 'named' })
    await rest()
    expect(hub.docs.a!.title).toBe('named')
  })

  it('and is tried again until the hub is there, also after the page was left', async () => {
    const p = page(hub)
    hub.there = false
    await p.type({ title: 'second' })
    await rest()
    expect(p.edit.saving.value).toBe('failed')
    p.wrapper.unmount()
    await rest(5000)
    hub.there = true
    await rest(5000)
    expect(hub.docs.a!.title).toBe('second')
    expect(kept()).toHaveLength(0)
  })

  it('and is taken over from a tab that is gone, not from one that is there', async () => {
    hub.there = false
    const p = page(hub)
    await p.type({ title: 'second' })
    await rest()
    p.wrapper.unmount()
    sessionStorage.clear() // another tab
    setActivePinia(createPinia())
    expect(Object.keys(useEdits().unsent)).toHaveLength(0)
    const name = kept()[0]!
    const old = JSON.parse(localStorage.getItem(name)!) as { at: number }
    localStorage.setItem(name, JSON.stringify({ ...old, at: Date.now() - 60_000 }))
    setActivePinia(createPinia())
    hub.there = true
    useEdits()
    await rest(0)
    expect(hub.docs.a!.title).toBe('second')
  })

  it('and tells of what was removed meanwhile', async () => {
    const p = page(hub)
    delete hub.docs.a
    await p.type({ title: 'second' })
    await rest()
    expect(useNotices().list[0]!.text).toBe('second was removed meanwhile; your last change was not saved.')
    expect(kept()).toHaveLength(0)
  })

  it('with an undo and a redo of every rest, over a reload too', async () => {
    const p = page(hub)
    await p.type({ title: 'second' })
    await rest()
    await p.type({ title: 'third' })
    await rest()
    p.wrapper.unmount()
    setActivePinia(createPinia())
    const again = page(hub)
    again.edit.undo()
    await rest()
    expect(again.edit.copy.value!.title).toBe('second')
    again.edit.undo()
    await rest()
    expect(hub.docs.a!.title).toBe('first')
    again.edit.redo()
    await rest()
    expect(hub.docs.a!.title).toBe('second')
    expect(again.edit.past.value).toHaveLength(1)
  })

  it('and two edits of lists are both kept while the hub is away', async () => {
    const edits = useEdits()
    hub.there = false
    void edits.now('scene', 'a', scene('first'), scene('renamed'))
    await rest(0)
    void edits.now('scene', 'a', scene('first'), scene('first', 'noted'))
    await rest(0)
    expect(kept()).toHaveLength(2)
    expect(edits.open.map((e) => e.state)).toEqual(['failed', 'failed'])
    setActivePinia(createPinia()) // the page is read again
    useEdits()
    await rest(0)
    hub.there = true
    await rest(10_000)
    expect(hub.docs.a).toEqual(scene('renamed', 'noted'))
    expect(kept()).toHaveLength(0)
  })

  it('and an undo that cannot be sent yet is done once the hub is there, and nothing is done again by it', async () => {
    const p = page(hub)
    await p.type({ title: 'second' })
    await rest()
    hub.edit('a', { note: 'theirs' })
    await p.told()
    hub.there = false
    p.edit.undo()
    await rest()
    hub.there = true
    await rest(5000)
    expect(hub.docs.a).toEqual(scene('first', 'theirs'))
    await p.told()
    expect(p.edit.copy.value).toEqual(scene('first', 'theirs'))
    await p.type({ note: 'mine' })
    await rest()
    expect(hub.docs.a).toEqual(scene('first', 'mine'))
  })

  it('and is sent once, however many ask for it at the same time', async () => {
    const p = page(hub)
    await p.type({ title: 'second' })
    const edits = useEdits()
    await Promise.all([edits.send('scene/a'), edits.send('scene/a'), edits.send('scene/a')])
    await rest()
    expect(hub.asked).toHaveLength(1)
  })

  it('and an undo takes back what was changed here, not what another window did since', async () => {
    const p = page(hub)
    await p.type({ title: 'second' })
    await rest()
    hub.edit('a', { note: 'theirs' })
    await p.told()
    p.edit.undo()
    await rest()
    expect(hub.docs.a).toEqual(scene('first', 'theirs'))
    expect(p.edit.copy.value).toEqual(scene('first', 'theirs'))
    expect(p.edit.past.value).toHaveLength(0)
    p.edit.redo()
    await rest()
    expect(hub.docs.a).toEqual(scene('second', 'theirs'))
  })
})
