import { computed, onBeforeUnmount, ref, watch, type Ref } from 'vue'
import { Problem } from '@/api/client'
import { canonical } from './canonical'

/** Where a draft stands that the hub keeps. */
export interface DraftNote {
  version: number
  /** The revision that was edited. */
  based: number
  at: string
}
export interface Kept<T> extends DraftNote {
  document: T
}

/** Keeps drafts beyond this browser. A change that follows on another version than the newest is refused with 409. */
export interface Keeper<T> {
  read(): Promise<Kept<T>>
  write(document: T, after: number, based: number): Promise<DraftNote>
  drop(after: number): Promise<unknown>
}

interface Source<T> {
  key: string
  live: () => T
  revision: () => number
  /** What is known of the draft that is kept, whichever browser made it. */
  note: () => DraftNote | undefined
  keeper: Keeper<T>
}

/** How long typing rests before it is kept, and how long until the next try when the hub cannot be reached. */
const REST = 400
/** How many of the newest documents that were sent are remembered. */
const REMEMBERED = 20
const AGAIN = 3000

const copy = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T
const conflicts = (e: unknown, status: number) => e instanceof Problem && e.status === status

/**
 * Work in progress beside what is live. The hub keeps it, so it is there in every browser; what the hub has not taken
 * yet is kept in this one. Where two browsers change it at the same time, both stay until somebody chooses.
 */
export function useDraft<T>(source: Source<T>) {
  const draft = ref<T>() as Ref<T | undefined>
  /** What another browser made of it meanwhile. */
  const theirs = ref<Kept<T>>() as Ref<Kept<T> | undefined>
  /** Whether the hub has not taken what is shown, because it cannot be reached or cannot keep it. */
  const unreached = ref(false)
  const changedElsewhere = ref(0)
  const based = ref(source.revision())
  let version = 0
  /** The newest that was told of: until then nothing is told of one that was just kept, and it is not gone. */
  let told = source.note()?.version ?? 0
  /** The newest that was discarded here: until that is told, it is still there to read. Versions grow, also over a discarded one. */
  let discarded = 0
  let agreed = ''
  let busy = false
  let gone = false
  let soon: ReturnType<typeof setTimeout> | undefined
  /** What this browser has sent: found with the hub, it is not somebody else's, though no answer said that it was taken. */
  const sentHere: string[] = []
  const sending = (document: T) => {
    sentHere.push(canonical(document))
    if (sentHere.length > REMEMBERED) sentHere.shift()
  }

  const name = `amvek.unsent.${source.key}`
  const unsent = () => {
    const kept = localStorage.getItem(name)
    return kept ? (JSON.parse(kept) as { document: T; version: number; based: number }) : undefined
  }
  const note = (document: T) => localStorage.setItem(name, canonical({ document, version, based: based.value }))
  /** Whether something was changed here that the hub has not taken yet. */
  const ahead = () => canonical(draft.value) !== agreed
  const forget = () => localStorage.removeItem(name)

  function show(document: T) {
    agreed = canonical(document)
    draft.value = copy(document)
  }
  function showLive() {
    version = 0
    based.value = source.revision()
    show(source.live())
  }
  function take(kept: Kept<T>) {
    version = kept.version
    based.value = kept.based
    theirs.value = undefined
    forget()
    show(kept.document)
  }

  async function load() {
    const mine = unsent()
    let kept: Kept<T> | undefined
    if (source.note()) {
      try {
        kept = await source.keeper.read()
      } catch (error) {
        unreached.value = !conflicts(error, 404)
      }
    }
    if (!kept && !mine) return showLive()
    if (kept && !mine) return take(kept)
    if (!mine) return
    sending(mine.document) // by the page that was left
    version = mine.version
    based.value = mine.based
    if (kept && kept.version !== mine.version && canonical(kept.document) !== canonical(mine.document))
      theirs.value = kept
    else version = kept?.version ?? 0
    draft.value = mine.document // not agreed with the hub, so it is sent
  }

  function again(delay: number) {
    clearTimeout(soon)
    if (!gone) soon = setTimeout(() => void write(), delay)
  }

  async function write() {
    clearTimeout(soon)
    if (busy || theirs.value || draft.value === undefined) return
    const sent = draft.value
    if (!ahead()) return
    busy = true
    sending(sent)
    try {
      const now = await source.keeper.write(sent, version, based.value)
      version = now.version
      agreed = canonical(sent)
      unreached.value = false
      if (!ahead()) forget()
      if (canonical(draft.value) === canonical(source.live())) drop() // put live or discarded while this was on its way
    } catch (error) {
      if (conflicts(error, 409)) await clash()
      else {
        unreached.value = true
        again(AGAIN)
      }
    } finally {
      busy = false
    }
    if (!theirs.value && !unreached.value && ahead()) again(REST)
    await follow()
  }

  /** Another version is there than the one that was changed here: it is shown beside, or it is gone. */
  async function clash() {
    try {
      const kept = await source.keeper.read()
      if (canonical(kept.document) === canonical(draft.value)) take(kept)
      else if (sentHere.includes(canonical(kept.document))) {
        version = kept.version
        agreed = canonical(kept.document)
        unreached.value = false
      } else theirs.value = kept
    } catch (error) {
      if (conflicts(error, 404)) version = 0
      else unreached.value = true
    }
  }

  /** Takes over what another browser did, where nothing was changed here since. */
  async function follow() {
    if (busy || theirs.value || draft.value === undefined || ahead()) return
    const now = source.note()
    if (now && now.version > Math.max(version, discarded)) {
      busy = true
      try {
        const kept = await source.keeper.read()
        if (!ahead()) {
          if (canonical(kept.document) !== canonical(draft.value)) changedElsewhere.value++
          take(kept)
        }
      } catch {
        // gone meanwhile; its note tells
      } finally {
        busy = false
      }
      if (source.note()?.version !== now.version) await follow() // what was told while it was read
    } else if (!now && version > 0 && told >= version) showLive()
  }

  function drop() {
    const after = version
    discarded = Math.max(discarded, after)
    version = 0
    based.value = source.revision()
    forget()
    clearTimeout(soon)
    if (after > 0) void source.keeper.drop(after).catch(() => undefined) // changed elsewhere meanwhile: it stays there
  }

  watch(source.note, (now) => {
    told = Math.max(told, now?.version ?? 0)
    void follow()
  })
  // Without a draft, what others put live is shown at once.
  watch(source.live, () => {
    if (version === 0 && !ahead() && draft.value !== undefined) showLive()
  })
  watch(
    draft,
    (now) => {
      if (now === undefined || canonical(now) === agreed) return
      if (canonical(now) === canonical(source.live()) && !theirs.value) {
        agreed = canonical(now)
        drop()
        return
      }
      note(now)
      again(REST)
    },
    { deep: true },
  )
  void load()
  onBeforeUnmount(() => {
    gone = true
    void write()
  })

  return {
    draft,
    theirs,
    unreached,
    changedElsewhere,
    differs: () => canonical(draft.value) !== canonical(source.live()),
    /** Whether what is live was changed since the draft was begun. */
    behind: computed(() => based.value < source.revision() && canonical(draft.value) !== canonical(source.live())),
    discard: () => {
      drop()
      theirs.value = undefined
      show(source.live())
    },
    keepMine: () => {
      version = theirs.value?.version ?? version
      theirs.value = undefined
      void write()
    },
    takeTheirs: () => theirs.value && take(theirs.value),
  }
}
