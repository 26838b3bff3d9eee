import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import { defineComponent, nextTick, ref } from 'vue'
import { useDraft } from './drafts'

function page(live = ref({ title: 'live' })) {
  let use!: ReturnType<typeof useDraft<{ title: string }>>
  const wrapper = mount(
    defineComponent({
      setup() {
        use = useDraft(
          () => 'rule-1',
          () => live.value,
        )
        return () => null
      },
    }),
  )
  return { live, use, wrapper }
}

describe('a draft', () => {
  beforeEach(() => localStorage.clear())

  it('survives leaving the page', async () => {
    const first = page()
    first.use.draft.value = { title: 'draft' }
    await nextTick()
    first.wrapper.unmount()
    const second = page()
    expect(second.use.draft.value?.title).toBe('draft')
    expect(second.use.differs()).toBe(true)
  })

  it('is gone once it equals what is live', async () => {
    const p = page()
    p.use.draft.value = { title: 'draft' }
    await nextTick()
    p.live.value = { title: 'draft' }
    p.use.discard()
    await nextTick()
    expect(localStorage.length).toBe(0)
    expect(p.use.differs()).toBe(false)
  })

  it('is not disturbed by what others put live, while without one that shows at once', async () => {
    const p = page()
    p.live.value = { title: 'theirs' }
    await nextTick()
    expect(p.use.draft.value?.title).toBe('theirs')
    p.use.draft.value = { title: 'ours' }
    await nextTick()
    p.live.value = { title: 'theirs again' }
    await nextTick()
    expect(p.use.draft.value?.title).toBe('ours')
    p.use.discard()
    expect(p.use.draft.value?.title).toBe('theirs again')
  })
})
