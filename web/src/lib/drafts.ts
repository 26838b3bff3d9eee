import { ref, watch, type Ref } from 'vue'

/** Work in progress that survives leaving the page and closing the browser, until it is put live or discarded. */
export function useDraft<T>(
  key: () => string,
  live: () => T | undefined,
): { draft: Ref<T | undefined>; differs: () => boolean; discard: () => void } {
  const draft = ref<T>() as Ref<T | undefined>
  const name = () => `amvek.draft.${key()}`
  const copy = (v: T | undefined) => (v === undefined ? undefined : (JSON.parse(JSON.stringify(v)) as T))
  const same = (a: T | undefined, b: T | undefined) => JSON.stringify(a) === JSON.stringify(b)

  function load() {
    const kept = localStorage.getItem(name())
    draft.value = kept ? (JSON.parse(kept) as T) : copy(live())
  }

  watch(key, load, { immediate: true })
  // Without a draft of our own, what others put live is shown at once.
  watch(live, (now) => {
    if (!localStorage.getItem(name())) draft.value = copy(now)
  })
  watch(
    draft,
    (now) => {
      if (now === undefined || same(now, live())) localStorage.removeItem(name())
      else localStorage.setItem(name(), JSON.stringify(now))
    },
    { deep: true },
  )

  return {
    draft,
    differs: () => !same(draft.value, live()),
    discard: () => {
      localStorage.removeItem(name())
      draft.value = copy(live())
    },
  }
}
