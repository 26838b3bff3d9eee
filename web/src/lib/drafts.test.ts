// @vitest-environment happy-dom
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, nextTick, ref } from 'vue'
import { Problem } from '@/api/client'
import { canonical } from './canonical'
import { useDraft, type DraftNote, type Keeper, type Kept } from './drafts'

interface Doc {
  title: string
}

/** A hub that keeps drafts, for several browsers. */
class Hub implements Keeper<Doc> {
  kept: Kept<Doc> | undefined
  note = ref<DraftNote>()
  reached = true
  private last = 0

  private reach() {
    if (!this.reached) throw new Problem(0, 'not reached')
  }
  /** Whether what was kept is told later than it is answered, by tellNext. */
  late = false
  private untold: (DraftNote | undefined)[] = []
  private tell(kept: Kept<Doc> | undefined) {
    this.kept = kept
    this.untold.push(kept && { version: kept.version, based: kept.based, at: kept.at })
    if (!this.late) this.tellNext()
  }
  tellNext() {
    this.note.value = this.untold.shift()
  }
  async read() {
    this.reach()
    if (!this.kept) throw new Problem(404, 'none')
    return this.kept
  }
  async write(document: Doc, after: number, based: number) {
    this.reach()
    if (after !== (this.kept?.version ?? 0)) throw new Problem(409, 'changed')
    this.tell({ document: JSON.parse(JSON.stringify(document)) as Doc, version: ++this.last, based, at: 'now' })
    return { version: this.kept!.version, based, at: 'now' }
  }
  async drop(after: number) {
    if (after === this.kept?.version) this.tell(undefined)
  }
}

const live = ref<Doc>({ title: 'live' })
const revision = ref(1)

function browser(hub: Hub) {
  let use!: ReturnType<typeof useDraft<Doc>>
  const wrapper = mount(
    defineComponent({
      setup() {
        use = useDraft({
          key: 'rule-1',
          live: () => live.value,
          revision: () => revision.value,
          note: () => hub.note.value,
          keeper: hub,
        })
        return () => null
      },
    }),
  )
  const type = async (title: string) => {
    use.draft.value = { title }
    await nextTick()
  }
  return { use, wrapper, type }
}
const rest = async () => {
  await vi.advanceTimersByTimeAsync(500)
  await flushPromises()
}

describe('a draft', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    localStorage.clear()
    live.value = { title: 'live' }
    revision.value = 1
  })
  afterEach(() => vi.useRealTimers())

  it('that is begun again is not taken for gone where only the end of the one before was told', async () => {
    const hub = new Hub()
    const { use, type } = browser(hub)
    await flushPromises()
    await type('first')
    await rest()
    hub.late = true
    await type('live') // undone: nothing is left to keep
    await rest()
    await type('again')
    await rest()
    expect(hub.kept?.document.title).toBe('again')
    hub.tellNext() // that the first is gone
    await rest()
    expect(use.draft.value?.title).toBe('again')
    hub.tellNext()
    await rest()
    expect(use.draft.value?.title).toBe('again')
    await hub.drop(hub.kept!.version) // discarded in another browser
    hub.tellNext()
    await rest()
    expect(use.draft.value?.title).toBe('live')
  })

  it('is kept by the hub and is there in another browser', async () => {
    const hub = new Hub()
    const first = browser(hub)
    await first.type('draft')
    await rest()
    expect(hub.kept?.document.title).toBe('draft')
    expect(localStorage.length).toBe(0)
    const second = browser(hub)
    await flushPromises()
    expect(second.use.draft.value?.title).toBe('draft')
    expect(second.use.differs()).toBe(true)
  })

  it('is not lost while the hub cannot be reached', async () => {
    const hub = new Hub()
    hub.reached = false
    const first = browser(hub)
    await first.type('draft')
    await rest()
    expect(first.use.unreached.value).toBe(true)
    first.wrapper.unmount()
    hub.reached = true
    const second = browser(hub)
    await rest()
    expect(second.use.draft.value?.title).toBe('draft')
    expect(hub.kept?.document.title).toBe('draft')
  })

  it('shows what another browser made of it, where nothing was changed here', async () => {
    const hub = new Hub()
    const first = browser(hub)
    const second = browser(hub)
    await first.type('theirs')
    await rest()
    expect(second.use.draft.value?.title).toBe('theirs')
    expect(second.use.changedElsewhere.value).toBe(1)
    await first.type('live')
    await rest()
    expect(hub.kept).toBeUndefined()
    expect(second.use.differs()).toBe(false)
  })

  it('is not taken over when it went while it was read', async () => {
    const hub = new Hub()
    const first = browser(hub)
    const second = browser(hub)
    await flushPromises()
    let answer!: () => void
    vi.spyOn(hub, 'read').mockImplementation(() => {
      const kept = hub.kept!
      return new Promise((resolve) => (answer = () => resolve(kept)))
    })
    await first.type('for a moment')
    await rest()
    await first.type('live')
    await rest()
    expect(hub.kept).toBeUndefined()
    answer()
    await rest()
    expect(second.use.draft.value?.title).toBe('live')
    expect(second.use.differs()).toBe(false)
  })

  it('stays in both browsers when both change it at the same time, until somebody chooses', async () => {
    const hub = new Hub()
    const first = browser(hub)
    await first.type('one')
    await rest()
    // The other browser is another computer: it does not see what this one has not sent.
    await hub.write({ title: 'two' }, hub.kept!.version, 1)
    first.use.draft.value = { title: 'one more' }
    await rest()
    expect(first.use.theirs.value?.document.title).toBe('two')
    expect(first.use.draft.value?.title).toBe('one more')
    expect(hub.kept?.document.title).toBe('two')
    first.use.keepMine()
    await rest()
    expect(hub.kept?.document.title).toBe('one more')
    await hub.write({ title: 'three' }, hub.kept!.version, 1)
    first.use.draft.value = { title: 'four' }
    await rest()
    first.use.takeTheirs()
    expect(first.use.draft.value?.title).toBe('three')
    await rest()
    expect(hub.kept?.document.title).toBe('three')
    expect(localStorage.length).toBe(0)
  })

  it('is not disturbed by what others put live, and says so; without one that shows at once', async () => {
    const hub = new Hub()
    const p = browser(hub)
    revision.value = 2
    live.value = { title: 'theirs' }
    await rest()
    expect(p.use.draft.value?.title).toBe('theirs')
    await p.type('ours')
    await rest()
    expect(p.use.behind.value).toBe(false)
    revision.value = 3
    live.value = { title: 'theirs again' }
    await rest()
    expect(p.use.draft.value?.title).toBe('ours')
    expect(p.use.behind.value).toBe(true)
    p.use.discard()
    await rest()
    expect(p.use.draft.value?.title).toBe('theirs again')
    expect(hub.kept).toBeUndefined()
  })

  it('is not taken for another browser’s where the hub took it and the answer got lost', async () => {
    const hub = new Hub()
    const { use, type } = browser(hub)
    await rest()
    const write = hub.write.bind(hub)
    hub.write = async (document, after, based) => {
      await write(document, after, based)
      hub.write = write
      throw new Problem(0, 'the answer got lost')
    }
    await type('one')
    await rest()
    expect(hub.kept?.document.title).toBe('one')
    await type('two')
    await rest()
    await vi.advanceTimersByTimeAsync(4000)
    await flushPromises()
    expect(use.theirs.value).toBeUndefined()
    expect(hub.kept?.document.title).toBe('two')
  })

  it('is not taken for another browser’s while it is being discarded, since it is what is live again', async () => {
    const hub = new Hub()
    const a = browser(hub)
    await flushPromises()
    await a.type('other')
    await rest()
    expect(hub.kept?.document.title).toBe('other')
    hub.drop = () => new Promise(() => undefined) // on its way
    await a.type('live')
    hub.note.value = { ...hub.note.value! } // told once more meanwhile
    await flushPromises()
    expect(a.use.changedElsewhere.value).toBe(0)
    expect(a.use.draft.value).toEqual({ title: 'live' })
  })

  it('goes on from what the page before it sent while it was left', async () => {
    const hub = new Hub()
    const before = browser(hub)
    await rest()
    let arrive: () => void = () => undefined
    const write = hub.write.bind(hub)
    hub.write = async (document, after, based) => {
      hub.write = write
      await new Promise<void>((resolve) => (arrive = resolve))
      return write(document, after, based)
    }
    await before.type('one')
    before.wrapper.unmount() // it is sent when the page is left
    const { use, type } = browser(hub)
    await flushPromises()
    await type('two')
    arrive()
    await rest()
    await rest()
    expect(use.theirs.value).toBeUndefined()
    expect(hub.kept?.document.title).toBe('two')
  })
})

describe('documents', () => {
  it('are the same whatever the order of their fields', () => {
    expect(canonical({ b: [{ d: 1, c: null }], a: 'x' })).toBe(canonical({ a: 'x', b: [{ c: null, d: 1 }] }))
    expect(canonical({ a: [1, 2] })).not.toBe(canonical({ a: [2, 1] }))
  })
})
