import { onBeforeUnmount, ref, watch, type Ref } from 'vue'
import { Problem } from '@/api/client'

const REST = 500

/**
 * A working copy that is saved by itself whenever it rests, with an undo of every step. Leaving the page saves
 * what is still unsaved. What others save is taken over while nothing of ours is on the way.
 */
export function useAutosave<T>(
  key: () => string,
  live: () => T | undefined,
  save: (document: T, key: string) => Promise<unknown>,
) {
  const copy = ref<T>() as Ref<T | undefined>
  const saving = ref<'saved' | 'saving' | 'failed'>('saved')
  const wrong = ref('')
  const past = ref<string[]>([]) as Ref<string[]>
  const future = ref<string[]>([]) as Ref<string[]>
  const text = (v: T | undefined) => JSON.stringify(v)
  let last = ''
  let timer: ReturnType<typeof setTimeout> | undefined
  let owner = key()

  function take() {
    copy.value = live() === undefined ? undefined : (JSON.parse(text(live())) as T)
    last = text(copy.value)
  }

  async function send() {
    clearTimeout(timer)
    timer = undefined
    if (copy.value === undefined || text(copy.value) === text(live())) {
      saving.value = 'saved'
      return
    }
    const sent = text(copy.value)
    saving.value = 'saving'
    try {
      await save(JSON.parse(sent) as T, owner)
      wrong.value = ''
      saving.value = text(copy.value) === sent ? 'saved' : 'saving'
    } catch (error) {
      saving.value = 'failed'
      wrong.value = error instanceof Problem ? error.message : String(error)
    }
  }

  function rest() {
    clearTimeout(timer)
    saving.value = 'saving'
    timer = setTimeout(() => void send(), REST)
  }

  watch(
    key,
    (now) => {
      if (timer) void send()
      owner = now
      past.value = []
      future.value = []
      wrong.value = ''
      saving.value = 'saved'
      take()
    },
    { immediate: true },
  )
  watch(live, () => {
    if (saving.value === 'saved') take()
  })
  watch(
    copy,
    (now) => {
      const t = text(now)
      if (t === last) return
      // What is typed in one go is undone in one go.
      if (!timer) past.value = [...past.value, last].slice(-100)
      future.value = []
      last = t
      rest()
    },
    { deep: true },
  )

  function step(from: Ref<string[]>, to: Ref<string[]>) {
    const t = from.value.at(-1)
    if (t === undefined) return
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, last]
    last = t
    copy.value = JSON.parse(t) as T
    rest()
  }

  onBeforeUnmount(() => {
    if (timer) void send()
  })
  const beforeUnload = () => {
    if (timer) void send()
  }
  addEventListener('pagehide', beforeUnload)
  onBeforeUnmount(() => removeEventListener('pagehide', beforeUnload))

  return {
    copy,
    saving,
    wrong,
    past,
    future,
    undo: () => step(past, future),
    redo: () => step(future, past),
  }
}
