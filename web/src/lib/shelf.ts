import { shallowRef, type ShallowRef } from 'vue'

type Json = Record<string, unknown>
const isObject = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v)

/** Applies a JSON Merge Patch (RFC 7396). What it does not touch stays the same object. */
export function mergePatch<T>(target: T, patch: unknown): T {
  if (!isObject(patch)) return patch as T
  const merged: Json = isObject(target) ? { ...target } : {}
  for (const [name, value] of Object.entries(patch)) {
    if (value === null) delete merged[name]
    else merged[name] = mergePatch(merged[name], value)
  }
  return merged as T
}

/** Entries of one kind by id, and as a list in an order. What changed is shown once after several of them did. */
export class Shelf<T> {
  readonly list: ShallowRef<T[]> = shallowRef([])
  private entries = new Map<string, T>()
  /** What is shown of single entries, for those that look at one. */
  private shown = new Map<string, ShallowRef<T | undefined>>()
  /** What changed since the list was shown, with what it was before; undefined where all is new. */
  private changed: Map<string, T | undefined> | undefined = new Map()

  constructor(private readonly order: (a: T, b: T) => number) {}

  fill(entries: Record<string, T>) {
    this.entries = new Map(Object.entries(entries))
    this.changed = undefined
  }
  /** An entry as it is, shown or not. */
  get(id: string): T | undefined {
    return this.entries.get(id)
  }
  /** An entry as it is shown: who looks at it is drawn anew when it changes, and not when others do. */
  one(id: string | undefined): T | undefined {
    if (id === undefined) return undefined
    let ref = this.shown.get(id)
    if (!ref) {
      ref = shallowRef(this.changed?.has(id) ? this.changed.get(id) : this.entries.get(id))
      this.shown.set(id, ref)
    }
    return ref.value
  }
  put(id: string, entry: T) {
    if (this.changed && !this.changed.has(id)) this.changed.set(id, this.entries.get(id))
    this.entries.set(id, entry)
  }
  change(id: string, change: (entry: T) => T) {
    const entry = this.entries.get(id)
    if (entry !== undefined) this.put(id, change(entry))
  }
  drop(id: string) {
    const entry = this.entries.get(id)
    if (entry === undefined) return
    if (this.changed && !this.changed.has(id)) this.changed.set(id, entry)
    this.entries.delete(id)
  }
  /**
   * Shows what changed, of entries that keep their places no more than so many, those first that wait longest; returns how many
   * it showed, and whether others wait.
   */
  settle(atMost = Infinity): { shown: number; more: boolean } {
    const { changed } = this
    if (changed?.size === 0) return { shown: 0, more: false }
    const some = changed && new Map([...changed].slice(0, atMost))
    const list = some && this.inPlace(some)
    if (changed && some && list) {
      this.list.value = list
      for (const id of some.keys()) {
        changed.delete(id)
        this.show(id)
      }
      return { shown: some.size, more: changed.size > 0 }
    }
    this.changed = new Map()
    this.list.value = [...this.entries.values()].sort(this.order)
    for (const id of (changed ?? this.shown).keys()) this.show(id)
    return { shown: this.entries.size, more: false }
  }
  private show(id: string) {
    const ref = this.shown.get(id)
    if (ref) ref.value = this.entries.get(id)
  }
  /** The list with what changed in its old places, undefined where something came, went or moves: sorting is dear. */
  private inPlace(changed: Map<string, T | undefined>): T[] | undefined {
    const now = new Map<T, T>()
    for (const [id, before] of changed) {
      const entry = this.entries.get(id)
      if (before === undefined || entry === undefined || this.order(before, entry) !== 0) return undefined
      now.set(before, entry)
    }
    return this.list.value.map((entry) => now.get(entry) ?? entry)
  }
}
